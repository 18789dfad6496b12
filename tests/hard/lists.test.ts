import { tryLists } from './list-trials';
import { STORE_KINDS } from './run-world';

for (const kind of STORE_KINDS) tryLists(kind);
