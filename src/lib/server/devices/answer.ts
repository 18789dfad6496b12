import { json } from '@sveltejs/kit';
import { findDevice, type Device } from './devices';
import { StorageError } from './disk';

/**
 * Answers for a device as it is told to behave. Refusals of its disk are told as statuses; anything else is a fault of
 * its own. One that is away answers as a house's network does for it: 503.
 */
export async function answering(
  id: string,
  act: (device: Device) => Promise<Response>,
  isChange = false,
): Promise<Response> {
  const device = findDevice(id);
  if (!device) return json({ message: 'there is no such device' }, { status: 404 });
  const { away, failing, stallMs } = device.manner;
  if (stallMs > 0) await new Promise((resolve) => setTimeout(resolve, stallMs));
  if (away) return json({ message: 'it does not answer' }, { status: 503 });
  if (failing && isChange) return json({ message: 'a fault of its own' }, { status: 500 });
  try {
    return await act(device);
  } catch (error) {
    if (error instanceof StorageError) return json({ message: error.message }, { status: error.status });
    throw error;
  }
}
