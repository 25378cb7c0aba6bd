/** Everything a running server is made of, put together once. */
import { randomUUID } from 'node:crypto';
import { mkdir } from 'node:fs/promises';
import pino, { type Logger } from 'pino';
import type { Sequelize } from 'sequelize';
import { writtenDocument } from '../core/document/versions.ts';
import { Changes, type LoggedChange } from './changes.ts';
import type { Config } from './config.ts';
import { connect } from './db/connect.ts';
import { migrate } from './db/migrations.ts';
import { shotForGuide } from './demo-shots.ts';
import { sentDocument } from './documents.ts';
import { Uploads } from './footage/uploads.ts';
import { HealthWatch } from './health.ts';
import { HELP_PAGES, helpPage, helpSections } from './help.ts';
import { EmbeddedQueue } from './jobs/embedded-queue.ts';
import type { JobQueue } from './jobs/queue.ts';
import { joinShots } from './join.ts';
import { Library } from './library.ts';
import { fileStem } from './outputs/file-stem.ts';
import { Outputs } from './outputs/outputs.ts';
import { type RecentShot, recentShots } from './overview.ts';
import { Peels } from './peel/peels.ts';
import { Shots } from './shots.ts';
import { Snapshots } from './snapshots.ts';
import { type ServerState, serverState } from './state.ts';
import { buildFramesAnew, swapFootage } from './swap-footage.ts';
import { Tracks } from './track/tracks.ts';

export interface Services {
  config: Config;
  log: Logger;
  sequelize: Sequelize;
  shots: Shots;
  uploads: Uploads;
  changes: Changes;
  outputs: Outputs;
  library: Library;
  snapshots: Snapshots;
  peels: Peels;
  tracks: Tracks;
  /** The docs for users. */
  help: { pages: typeof HELP_PAGES; page: typeof helpPage; sections: typeof helpSections };
  /** Shots that were worked on last. */
  recent(count: number): Promise<RecentShot[]>;
  /** A shot of the demo film on which a guide can be tried. */
  shotForGuide(guideId: string): Promise<{ shotId: string; ready: boolean }>;
  /** Makes a shot that shows others of the production one after the other. */
  joinShots(productionId: string, asked: unknown): Promise<{ shotId: string }>;
  /** Gives two shots the footage of each other. */
  swapFootage(shotId: string, otherId: string): Promise<void>;
  /** Has the frames of a shot's footage made again. */
  buildFramesAnew(shotId: string): Promise<void>;
  /** The document of a shot as a file. */
  documentFile(shotId: string): Promise<{ text: string; fileName: string }>;
  /** Replaces the document of a shot by one that was sent. */
  importDocument(shotId: string, sent: unknown): Promise<LoggedChange>;
  queue: JobQueue;
  health: HealthWatch;
  /** How the server is: its database, its work and its disk. */
  state(): Promise<ServerState>;
  close(): Promise<void>;
}

const DAY = 86_400_000;

/** Connects, brings the tables to the newest form and, unless `work` is false, starts taking up jobs and tidying. */
export async function openServices(
  databaseUrl: string,
  config: Config,
  { work = true, log = pino({ level: 'silent' }) }: { work?: boolean; log?: Logger } = {},
): Promise<Services> {
  await mkdir(config.dataDir, { recursive: true });
  const sequelize = connect(databaseUrl);
  await migrate(sequelize);
  const uploads = new Uploads(config);
  const shots = new Shots(sequelize, config, uploads);
  const changes = new Changes(sequelize, config);
  const outputs = new Outputs(config, changes);
  const peels = new Peels(shots, changes, log);
  const tracks = new Tracks(changes);
  const health = new HealthWatch(sequelize);
  const queue = new EmbeddedQueue(sequelize, { config, shots, changes, outputs, peels, tracks }, log);
  if (work) await queue.start();
  const tidy = () => {
    const orSay = (what: string) => (error: unknown) => log.error({ err: error }, `${what} could not be removed`);
    shots
      .removeOrphans()
      .then((gone) => gone.length > 0 && log.warn({ plates: gone }, 'Footage that no shot knows of was removed'))
      .catch(orSay('Footage that no shot knows of'));
    shots.purge().catch(orSay('Old deleted shots'));
    peels.tidy().catch(orSay('Old results of Peels'));
    uploads.removeOlderThan(DAY).catch(orSay('Old uploads'));
  };
  if (work) tidy();
  const timer = setInterval(tidy, DAY);
  timer.unref();
  const services: Services = {
    config,
    log,
    sequelize,
    shots,
    uploads,
    changes,
    outputs,
    library: new Library(shots),
    snapshots: new Snapshots(shots),
    peels,
    tracks,
    help: { pages: HELP_PAGES, page: helpPage, sections: helpSections },
    recent: (count) => recentShots(peels, count),
    shotForGuide: (guideId) => shotForGuide({ uploads, shots, queue }, guideId),
    joinShots: (productionId, asked) => joinShots({ shots, uploads, queue }, productionId, asked),
    swapFootage: (shotId, otherId) => swapFootage({ sequelize, shots, changes, queue }, shotId, otherId),
    buildFramesAnew: (shotId) => buildFramesAnew({ sequelize, shots, changes, queue }, shotId),
    async documentFile(shotId) {
      const { document } = await changes.load(shotId);
      return { text: `${JSON.stringify(writtenDocument(document), null, 2)}\n`, fileName: `${fileStem(document.name)}.mottrel.json` };
    },
    importDocument: (shotId, sent) => changes.replace(shotId, sentDocument(sent), 'import', randomUUID()),
    queue,
    health,
    state: () => serverState({ config, health, queue }),
    async close() {
      clearInterval(timer);
      health.close();
      await queue.stop();
      await sequelize.close();
    },
  };
  return services;
}
