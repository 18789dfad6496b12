import { afterAll, afterEach, beforeAll, vi } from 'vitest';
import { RULEBOOKS } from '../../src/lib/rulebooks';
import { deviceFetch } from '../helpers/device-fetch';
import { DevicePlace, FolderPlace, removeDisks } from './real-places';
import { sized } from './size';
import { trySync } from './sync-trials';

/* Syncs with the places that the application writes to: each device of the house, and a chosen folder. */

const before = process.env.LECTORUM_DEVICES;
beforeAll(() => vi.stubGlobal('fetch', deviceFetch));
afterEach(removeDisks);
afterAll(() => {
  vi.unstubAllGlobals();
  process.env.LECTORUM_DEVICES = before;
});

const houses = [sized(40, 2), sized(10, 1)] as const;
const device = { name: 'on a device', caseBlind: true, digests: true };
trySync({ ...device, make: (rulebook) => new DevicePlace(rulebook) }, Object.values(RULEBOOKS), houses);
const folder = { name: 'in a folder', caseBlind: false, digests: false, make: () => new FolderPlace() };
trySync(folder, Object.values(RULEBOOKS), houses);
