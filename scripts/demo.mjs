// npm run demo: installs what is missing, builds, and serves the demo household.
import { ensureBuild, ensurePackages } from './ensure.mjs';

ensurePackages();
console.log('Building, about half a minute');
ensureBuild();
const { serve } = await import('./serve.mjs');
const address = await serve(Number(process.env.PORT ?? 4173));
console.log(
  `\nLectorum with the demo of Skerry House: ${address}/demo\nYour own library, empty at first:       ${address}/home\n\nCtrl C ends it.`,
);
