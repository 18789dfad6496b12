import { STORE_KINDS } from './run-world';
import { trySync } from './sync-trials';

for (const kind of STORE_KINDS) trySync(kind);
