/** Services for commands that need the database. */
import { readConfig } from '../server/config.ts';
import { openDatabase } from '../server/instance.ts';
import { servedBy } from '../server/lock.ts';
import { openServices, type Services } from '../server/services.ts';

/**
 * Opens the services, hands them over and closes what was opened. Jobs are taken up only where no server runs on this data,
 * so that there is one queue at a time.
 */
export async function withServices<T>(data: string | undefined, work: boolean, act: (services: Services) => Promise<T>): Promise<T> {
  const config = readConfig(data);
  const served = servedBy(config.dataDir) !== null;
  const { url, local } = await openDatabase(config);
  const services = await openServices(url, config, { work: work && !served });
  try {
    return await act(services);
  } finally {
    await services.close();
    if (local?.started) await local.stop();
  }
}
