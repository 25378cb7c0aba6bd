/** Everything a running server is made of, put together once. */
import { mkdir } from 'node:fs/promises';
import type { Sequelize } from 'sequelize';
import { Changes } from './changes.ts';
import type { Config } from './config.ts';
import { connect } from './db/connect.ts';
import { migrate } from './db/migrations.ts';
import { shotForGuide } from './demo-shots.ts';
import { Uploads } from './footage/uploads.ts';
import { HealthWatch } from './health.ts';
import { HELP_PAGES, helpPage, helpSections } from './help.ts';
import { ingestJob } from './jobs/ingest-job.ts';
import { outputJob } from './jobs/output-job.ts';
import { EmbeddedQueue, type JobQueue } from './jobs/queue.ts';
import { Library } from './library.ts';
import { Outputs } from './outputs/outputs.ts';
import { type RecentShot, recentShots } from './overview.ts';
import { carryJob, Peels } from './peel/peels.ts';
import { Shots } from './shots.ts';
import { Snapshots } from './snapshots.ts';
import { Tracks, trackJob } from './track/tracks.ts';

export interface Services {
  config: Config;
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
  queue: JobQueue;
  health: HealthWatch;
  close(): Promise<void>;
}

const DAY = 86_400_000;

/** Connects, brings the tables to the newest form and, unless `work` is false, starts taking up jobs and tidying. */
export async function openServices(databaseUrl: string, config: Config, { work = true } = {}): Promise<Services> {
  await mkdir(config.dataDir, { recursive: true });
  const sequelize = connect(databaseUrl);
  await migrate(sequelize);
  const uploads = new Uploads(config);
  const shots = new Shots(sequelize, config, uploads);
  const changes = new Changes(sequelize, config);
  const outputs = new Outputs(config, changes);
  const peels = new Peels(shots, changes);
  const tracks = new Tracks(changes);
  const kinds = {
    ingest: ingestJob(shots, config),
    output: outputJob(shots, outputs, peels),
    carry: carryJob(shots, peels),
    track: trackJob(shots, changes, tracks),
  };
  const health = new HealthWatch(sequelize);
  const queue = new EmbeddedQueue(sequelize, kinds, config);
  if (work) await queue.start();
  const tidy = () => {
    shots.purge().catch((error: unknown) => console.error('Old deleted shots could not be removed:', error));
    peels.tidy().catch((error: unknown) => console.error('Old results of Peels could not be removed:', error));
    uploads.removeOlderThan(DAY).catch((error: unknown) => console.error('Old uploads could not be removed:', error));
  };
  if (work) tidy();
  const timer = setInterval(tidy, DAY);
  timer.unref();
  const services: Services = {
    config,
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
    queue,
    health,
    async close() {
      clearInterval(timer);
      health.close();
      await queue.stop();
      await sequelize.close();
    },
  };
  return services;
}
