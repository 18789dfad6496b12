// npm run demo: installs what is missing, builds, and serves the demo household.
import { join } from 'node:path';
import { layOutDevices } from './demo/devices.mjs';
import { ensureBuild, ensurePackages, root } from './ensure.mjs';

ensurePackages();
console.log('Building, about half a minute');
ensureBuild();
process.env.LECTORUM_DEVICES ??= join(root, '.devices');
layOutDevices(process.env.LECTORUM_DEVICES);
const { serve } = await import('./serve.mjs');
const address = await serve(Number(process.env.PORT ?? 4173));
console.log(
  `\nLectorum with the demo of Skerry House: ${address}/demo\nYour own library, empty at first:       ${address}/home\n\nCtrl C ends it.`,
);
