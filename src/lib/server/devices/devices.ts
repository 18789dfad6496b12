import { join } from 'node:path';
import { scanAttic } from './attic/scan';
import { Disk, type DiskRules } from './disk';
import { scanGalley } from './galley/scan';
import { refusedByFat, refusedByPhone, refusedByServer } from './names';
import { scanPocket } from './pocket/scan';
import type { DeviceScan } from './shown';

/** A device of the household, made up of a disk and a scanner of its own. */
export interface Device {
  readonly disk: Disk;
  readonly manner: Manner;
  scan(): Promise<DeviceScan>;
}

/** How a device behaves, to be switched for trying what an application makes of it. */
export interface Manner {
  /** It does not answer. */
  away: boolean;
  /** Every change fails, with a fault of its own. */
  failing: boolean;
  /** Milliseconds that it takes before it answers. */
  stallMs: number;
}

/** Where the disks of all devices lie. */
const home = () => process.env.LECTORUM_DEVICES ?? '.devices';

function makeDevice(id: string, rules: DiskRules, scan: (disk: Disk) => Promise<DeviceScan>): Device {
  const disk = new Disk(() => join(home(), id), rules);
  return { disk, manner: { away: false, failing: false, stallMs: 0 }, scan: () => scan(disk) };
}

const MB = 1_000_000;

/** Bytes of Attic's disk: much, unless it is told otherwise. */
const atticRoom = () => Number(process.env.LECTORUM_ATTIC_MB ?? 8000) * MB;

const DEVICES: Readonly<Record<string, Device>> = {
  attic: makeDevice(
    'attic',
    {
      get room() {
        return atticRoom();
      },
      others: 0,
      blindToCase: false,
      refusal: refusedByServer,
    },
    scanAttic,
  ),
  galley: makeDevice(
    'galley',
    { room: 500 * MB, others: 0, blindToCase: true, refusal: refusedByFat },
    scanGalley,
  ),
  pocket: makeDevice(
    'pocket',
    { room: 1000 * MB, others: 940 * MB, blindToCase: true, refusal: refusedByPhone },
    scanPocket,
  ),
};

/** Null where there is no device of this name. */
export const findDevice = (id: string): Device | null =>
  Object.hasOwn(DEVICES, id) ? (DEVICES[id] as Device) : null;
