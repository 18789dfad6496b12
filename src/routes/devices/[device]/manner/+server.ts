import { error, json } from '@sveltejs/kit';
import { findDevice } from '$lib/server/devices';
import { readJson } from '$lib/server/guard';
import type { RequestHandler } from './$types';

const mannerOf = (id: string) => {
  const device = findDevice(id);
  if (!device) error(404, 'there is no such device');
  return { ...device.manner, full: device.disk.isFull };
};

/** How the device behaves: away, failing at every change, slow to answer, full. */
export const GET: RequestHandler = ({ params }) => json(mannerOf(params.device));

/** Makes it behave so; what is not named goes back to how it is by itself. */
export const PUT: RequestHandler = async ({ params, request }) => {
  const device = findDevice(params.device);
  if (!device) error(404, 'there is no such device');
  const told = await readJson(request);
  if (!told) error(400, 'says no manner');
  const { away = false, failing = false, stallMs = 0, full = false } = told;
  if (![away, failing, full].every((one) => typeof one === 'boolean')) error(400, 'neither true nor false');
  if (typeof stallMs !== 'number' || !(stallMs >= 0 && stallMs <= 60_000)) error(400, 'at most 60,000 ms');
  Object.assign(device.manner, { away, failing, stallMs });
  device.disk.isFull = Boolean(full);
  return json(mannerOf(params.device));
};
