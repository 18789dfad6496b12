import { FLAT } from './flat-place';
import { tryRuns } from './run-trials';

tryRuns(FLAT);
