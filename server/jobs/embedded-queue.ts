/** The queue of one server: jobs live in the database, and a pool of its own threads runs them. */
import { randomUUID } from 'node:crypto';
import { EventEmitter } from 'node:events';
import path from 'node:path';
import { MessageChannel } from 'node:worker_threads';
import pRetry from 'p-retry';
import type { Logger } from 'pino';
import { Piscina } from 'piscina';
import { literal, Op, type Sequelize } from 'sequelize';
import type { Config } from '../config.ts';
import { isUnreachable } from '../db/connect.ts';
import { Job, type JobState } from '../db/models.ts';
import { notFound, Problem } from '../problem.ts';
import { PROGRAM } from '../root.ts';
import type { JobHandle, JobKind, JobServices } from './kind.ts';
import { JOB_KINDS, type JobKindId } from './kinds.ts';
import type { About, JobQueue, JobSummary, OpenJob, OpenState } from './queue.ts';
import { type Cost, Costs, lineUp, timeLeft } from './time-left.ts';
import { jobEndSchema } from './worker.ts';

interface Running {
  job: Job;
  stop(): void;
  /** Why it was asked to stop. */
  reason: 'pause' | 'cancel' | 'shutdown' | null;
  startedAt: number;
  /** When its first unit was done, and how many were. */
  first: { at: number; done: number } | null;
  savedAt: number;
  ended: Promise<void>;
}

/** Milliseconds between progress rows, between looks for work that another process put in, and between tellings of the time left. */
const SAVE_EVERY = 500;
const LOOK_EVERY = 2000;
const TELL_EVERY = 1000;
/** States of jobs that are not over. */
const OPEN: OpenState[] = ['queued', 'running', 'paused'];

type Places = ReadonlyMap<string, { ahead: number; left: number }>;

/** What nobody waits for comes last; else first come, first served. */
const ORDER: [string, string][] = [
  ['background', 'ASC'],
  ['createdAt', 'ASC'],
];

export class EmbeddedQueue implements JobQueue {
  private readonly sequelize: Sequelize;
  private readonly kinds: Record<string, JobKind>;
  private readonly services: JobServices;
  private readonly config: Config;
  private readonly log: Logger;
  private readonly pool: Piscina;
  private readonly running = new Map<string, Running>();
  private readonly events = new EventEmitter().setMaxListeners(0);
  private readonly costs = new Costs();
  /** What waits, first come first. */
  private line: Job[] = [];
  private timer: NodeJS.Timeout | null = null;
  private telling: NodeJS.Timeout | null = null;
  private looking: Promise<void> = Promise.resolve();
  private stopping = false;

  /** @param kinds those that it knows: all of them, unless a test has other ones */
  constructor(sequelize: Sequelize, services: JobServices, log: Logger, kinds: Record<string, JobKind> = JOB_KINDS) {
    const { config } = services;
    this.log = log;
    this.sequelize = sequelize;
    this.services = services;
    this.kinds = kinds;
    this.config = config;
    this.pool = new Piscina({
      filename: path.join(PROGRAM, 'job-worker.js'),
      minThreads: 0,
      maxThreads: config.threads,
      idleTimeout: 30_000,
    });
  }

  /** Takes up again what an earlier process left running, and starts looking for work. */
  async start(): Promise<void> {
    await Job.update({ state: 'queued' }, { where: { state: 'running' } });
    this.timer = setInterval(() => this.wake(), LOOK_EVERY);
    this.timer.unref();
    this.telling = setInterval(() => this.tellAll(), TELL_EVERY);
    this.telling.unref();
    this.wake();
  }

  /** Stops running jobs where they are; the next start goes on with them. */
  async stop(): Promise<void> {
    this.stopping = true;
    if (this.timer) clearInterval(this.timer);
    if (this.telling) clearInterval(this.telling);
    await this.looking.catch(() => {});
    for (const r of this.running.values()) {
      r.reason ??= 'shutdown';
      r.stop();
    }
    await Promise.all([...this.running.values()].map((r) => r.ended));
    await this.pool.destroy();
  }

  async add(kind: JobKindId, shotId: string, payload: unknown, total: number, { label = '', group, background = false }: About = {}): Promise<string> {
    const id = randomUUID();
    const job = await Job.create({
      id,
      kind,
      groupId: group ?? null,
      background,
      label: label.slice(0, 250),
      shotId,
      state: 'queued',
      payload: JSON.stringify(payload),
      total,
    });
    this.tell(job);
    this.wake();
    return id;
  }

  wake(): void {
    this.looking = this.looking
      .then(() => this.takeUp())
      .catch((error: unknown) => {
        if (isUnreachable(error)) this.log.debug({ err: error }, 'The job queue waits for the database');
        else this.log.error({ err: error }, 'The job queue met an error');
      });
  }

  private async takeUp(): Promise<void> {
    while (!this.stopping && this.running.size < this.config.threads) {
      const job = await this.sequelize.transaction(async (transaction) => {
        const next = await Job.findOne({
          where: { state: 'queued', ...(this.hasRoomForBackground() ? {} : { background: false }) },
          order: ORDER,
          transaction,
          lock: transaction.LOCK.UPDATE,
          skipLocked: true,
        });
        await next?.update({ state: 'running', message: null }, { transaction });
        return next;
      });
      if (!job) break;
      this.run(job);
    }
    if (!this.stopping) await this.readLine();
  }

  private hasRoomForBackground(): boolean {
    const going = [...this.running.values()].filter((r) => r.job.background).length;
    return going < Math.max(1, this.config.threads - 1);
  }

  /** Reads what waits, and tells those whose place has changed. */
  private async readLine(): Promise<void> {
    const before = this.line.map((j) => j.id).join();
    this.line = await Job.findAll({ where: { state: 'queued' }, attributes: { exclude: ['payload', 'result'] }, order: ORDER, limit: 500 });
    if (this.line.map((j) => j.id).join() !== before) this.tellAll();
  }

  private tellAll(): void {
    const places = this.places();
    for (const { job } of this.running.values()) this.tell(job, places);
    for (const job of this.line) this.tell(job, places);
  }

  cost = (kind: string): Cost => this.costs.of(kind);

  get threads(): number {
    return this.config.threads;
  }

  private run(job: Job): void {
    const { port1, port2 } = new MessageChannel();
    const running: Running = {
      job,
      stop: () => port1.postMessage('stop'),
      reason: null,
      startedAt: Date.now(),
      first: null,
      savedAt: Date.now(),
      ended: Promise.resolve(),
    };
    this.line = this.line.filter((j) => j.id !== job.id);
    this.running.set(job.id, running);
    port1.on('message', (done: number) => this.progress(running, done));
    running.ended = this.carryOut(running, port2)
      .catch((error: unknown) => this.log.error({ err: error, jobId: job.id }, 'A job could not be closed'))
      .finally(() => {
        port1.close();
        this.running.delete(job.id);
        this.wake();
      });
    this.tell(job);
  }

  private progress(running: Running, done: number): void {
    const { job } = running;
    job.done = done;
    if (done > job.total) job.total = done;
    const now = Date.now();
    // What was there before it began came at no cost.
    if (!running.first && done > 0) running.first = { at: now, done };
    if (now - running.savedAt >= SAVE_EVERY) {
      running.savedAt = now;
      // Only how far it is: what the job is to do meanwhile may have been decided elsewhere.
      Job.update({ done, total: job.total }, { where: { id: job.id } }).catch((error: unknown) =>
        this.log.debug({ err: error, jobId: job.id }, 'How far a job is could not be written; it is tried again at its next step'),
      );
      this.tell(job);
    }
  }

  private async carryOut(running: Running, port: import('node:worker_threads').MessagePort): Promise<void> {
    const { job } = running;
    const kind = this.kinds[job.kind];
    let state: JobState;
    let message: string | null = null;
    let problem: Problem | null = null;
    try {
      if (!kind) throw new Problem('unknown-job', `This version does not know the work "${job.kind}".`, 500);
      const handle = handleOf(job, kind);
      const task = await kind.prepare(handle, this.services);
      const end = jobEndSchema.parse(await this.pool.run({ kind: job.kind, task, port }, { transferList: [port] }));
      if ('problem' in end) {
        if (end.found !== undefined) await this.keepFound(running.reason, kind, handle, kind.result.parse(end.found));
        throw new Problem(end.problem.code, end.problem.message, end.problem.status);
      }
      const result = kind.result.parse(end.result);
      await withPatience(async () => kind.finish?.(handle, result, this.services));
      if (result !== undefined) job.result = JSON.stringify(result);
      state = 'done';
      this.costs.learn(job.kind, { ...running, done: job.done, total: job.total }, Date.now());
      job.done = job.total;
    } catch (error) {
      if (running.reason === 'pause') state = 'paused';
      else if (running.reason === 'cancel') state = 'cancelled';
      else if (running.reason === 'shutdown' || isUnreachable(error)) state = 'queued';
      else {
        state = 'failed';
        problem = asProblem(error);
        ({ message } = problem);
        if (problem.code === 'internal') this.log.error({ err: error, jobId: job.id, kind: job.kind }, 'A job failed');
      }
      if (state === 'failed' || state === 'cancelled')
        await withPatience(() => this.abandon(job, problem)).catch((e: unknown) =>
          this.log.error({ err: e, jobId: job.id }, 'What a job left could not be put away'),
        );
    }
    const over = state === 'done' || state === 'failed' || state === 'cancelled';
    await withPatience(async () => {
      await job.update({
        state,
        message,
        result: job.result,
        done: job.done,
        total: job.total,
        workedMs: job.workedMs + Date.now() - running.startedAt,
        finishedAt: over ? new Date() : null,
      });
    });
    this.log.info({ jobId: job.id, kind: job.kind, state, done: job.done, ms: Date.now() - running.startedAt }, 'A job ended');
    this.tell(job);
  }

  /** What was found by work that was stopped: kept as if it had ended where it was cancelled, and for later where it is to go on. */
  private keepFound(reason: Running['reason'], kind: JobKind, handle: JobHandle<unknown>, found: unknown): Promise<void> {
    return withPatience(async () => {
      if (reason === 'cancel') await kind.finish?.(handle, found, this.services);
      if (reason === 'pause' || reason === 'shutdown') await kind.pause?.(handle, found, this.services);
    });
  }

  /** Without what it was asked for, which this version may not be able to read. */
  private async abandon({ id, shotId, kind }: Job, problem: Problem | null): Promise<void> {
    await this.kinds[kind]?.abandon?.({ id, shotId }, this.services, problem);
  }

  async openOnes(shotId: string, kind: JobKindId): Promise<OpenJob[]> {
    const rows = await Job.findAll({ where: { shotId, kind, state: { [Op.in]: OPEN } } });
    return rows.map(({ id, groupId, state, payload }) => ({ id, group: groupId, state, payload: JSON.parse(payload) }));
  }

  async details(shotId: string, kind: JobKindId, paths: Record<string, string>) {
    const read = Object.entries(paths).map(([name, path]): [ReturnType<typeof literal>, string] => [
      literal(`json_extract(payload, ${this.sequelize.escape(path)})`),
      `read_${name}`,
    ]);
    const rows = await Job.findAll({
      where: { shotId, kind },
      attributes: { exclude: ['payload'], include: read },
      order: [['createdAt', 'DESC']],
      limit: 100,
    });
    const places = this.places();
    return rows.map((job) => ({
      job: this.summary(job, places),
      read: Object.fromEntries(Object.keys(paths).map((name) => [name, parsedOrNull(job.get(`read_${name}`))])),
      result: parsedOrNull(job.result),
    }));
  }

  async counts(): Promise<Record<OpenState, number>> {
    const counted = await Job.count({ where: { state: { [Op.in]: OPEN } }, group: ['state'] });
    const of = (state: OpenState) => counted.find((c) => c.state === state)?.count ?? 0;
    return { running: of('running'), queued: of('queued'), paused: of('paused') };
  }

  countDone = (shotId: string, kind: JobKindId): Promise<number> => Job.count({ where: { shotId, kind, state: 'done' } });

  async forget(id: string): Promise<void> {
    await Job.destroy({ where: { id, state: { [Op.notIn]: OPEN } } });
  }

  async get(id: string): Promise<JobSummary> {
    const job = await Job.findByPk(id);
    if (!job) throw notFound('job');
    return this.summary(job);
  }

  async list({ shotId, open }: { shotId?: string; open?: boolean }): Promise<JobSummary[]> {
    const rows = await Job.findAll({
      where: { ...(shotId ? { shotId } : {}), ...(open ? await this.openOrWithThem() : {}) },
      attributes: { exclude: ['payload', 'result'] },
      order: [['createdAt', 'DESC']],
      limit: 200,
    });
    const places = this.places();
    return rows.map((job) => this.summary(job, places));
  }

  /** Open jobs, and those that are one work with them: how far the work is counts them too. */
  private async openOrWithThem() {
    const rows = await Job.findAll({ where: { state: OPEN, groupId: { [Op.not]: null } }, attributes: ['groupId'] });
    return { [Op.or]: [{ state: OPEN }, { groupId: [...new Set(rows.map((r) => r.groupId as string))] }] };
  }

  async act(id: string, action: 'pause' | 'resume' | 'cancel'): Promise<void> {
    const running = this.running.get(id);
    if (running && action !== 'resume') {
      running.reason = action;
      running.stop();
      await running.ended;
      return;
    }
    const job = await this.sequelize.transaction(async (transaction) => {
      const row = await Job.findByPk(id, { transaction, lock: transaction.LOCK.UPDATE });
      if (!row) throw notFound('job');
      const from: JobState[] = action === 'resume' ? ['paused', 'failed', 'cancelled'] : action === 'pause' ? ['queued'] : ['queued', 'paused'];
      if (!from.includes(row.state)) throw new Problem('job-moved-on', `This work is ${row.state} already.`, 409);
      await row.update(
        {
          state: action === 'resume' ? 'queued' : action === 'pause' ? 'paused' : 'cancelled',
          finishedAt: action === 'cancel' ? new Date() : null,
          message: null,
        },
        { transaction },
      );
      return row;
    });
    if (action === 'cancel') await this.abandon(job, null);
    this.tell(job);
    // The line has changed either way.
    this.wake();
  }

  subscribe(listener: (job: JobSummary) => void): () => void {
    this.events.on('job', listener);
    return () => this.events.off('job', listener);
  }

  private tell(job: Job, places?: Places): void {
    this.events.emit('job', this.summary(job, places));
  }

  /** Milliseconds that a running job has left. */
  private left({ job, startedAt, first }: Running): number {
    return timeLeft({ startedAt, first, done: job.done, total: job.total }, this.costs.of(job.kind), Date.now());
  }

  /** Of each job that waits, how many works go before it, and the milliseconds until it is done. */
  private places(): Places {
    const now = Date.now();
    const takes = this.line.map((j) => timeLeft({ startedAt: now, first: null, done: j.done, total: j.total }, this.costs.of(j.kind), now));
    const running = [...this.running.values()].map((r) => this.left(r));
    const done = lineUp(this.config.threads, running, takes);
    return new Map(this.line.map((j, i) => [j.id, { ahead: this.running.size + i, left: done[i] }]));
  }

  private summary(job: Job, places: Places = this.places()): JobSummary {
    const running = this.running.get(job.id);
    const current = running?.job ?? job;
    const place = job.state === 'queued' && !running ? places.get(job.id) : undefined;
    const left = running ? this.left(running) : place?.left;
    return {
      id: job.id,
      group: job.groupId ?? job.id,
      kind: job.kind,
      doing: this.kinds[job.kind]?.doing ?? job.kind,
      label: job.label,
      shotId: job.shotId,
      state: job.state,
      done: Math.min(current.done, current.total),
      total: current.total,
      secondsLeft: left === undefined ? null : Math.ceil(left / 1000),
      ahead: place?.ahead ?? null,
      message: job.message,
      createdAt: job.createdAt.toISOString(),
    };
  }
}

/** The job for its kind; what it was asked for is parsed. */
function handleOf(job: Job, kind: JobKind): JobHandle<unknown> {
  const payload = kind.payload.safeParse(JSON.parse(job.payload));
  if (!payload.success) throw new Problem('unreadable', 'This work was asked for by another version of Mottrel. Ask for it again.', 409);
  return {
    id: job.id,
    shotId: job.shotId,
    payload: payload.data,
    async setPayload(next) {
      await job.update({ payload: JSON.stringify(next) });
    },
    restart(total) {
      job.total = total;
      job.done = 0;
    },
  };
}

const parsedOrNull = (text: unknown): unknown => (typeof text === 'string' ? JSON.parse(text) : null);

const asProblem = (error: unknown): Problem =>
  error instanceof Problem ? error : new Problem('internal', 'Something went wrong in the program itself; the log of the server says more. Try again.', 500);

/** Repeats while the database is away, over eight seconds, so that finished work is not lost to a short outage. */
const withPatience = (action: () => Promise<void>): Promise<void> =>
  pRetry(action, { retries: 5, minTimeout: 250, factor: 2, shouldRetry: ({ error }) => isUnreachable(error) });
