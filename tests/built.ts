/** Before integration tests: the threads of work and the command line run compiled, so they are built first. */
import { ensureBuilt } from '../scripts/build.mjs';

export default (): Promise<void> => ensureBuilt({ pages: true });
