/** The queue of long work, as all but its engine know it: what can be asked for, and how far it is. */
import type { JobState } from '../db/models.ts';
import type { JobKindId } from './kinds.ts';
import type { Cost } from './time-left.ts';

export interface JobSummary {
  id: string;
  /** Jobs that are one work to people have the same one. */
  group: string;
  kind: string;
  /** What it does, and what it is about, in words: "Carrying", "Peel 1, Quay". */
  doing: string;
  label: string;
  shotId: string;
  state: JobState;
  done: number;
  total: number;
  /** Seconds until it is done, those that it waits included; null for what is paused or over. */
  secondsLeft: number | null;
  /** Of what waits: how many works run or wait before it. */
  ahead: number | null;
  message: string | null;
  createdAt: string;
}

/** What people are told of a job beside its kind. */
export interface About {
  label?: string;
  /** Of the jobs that are one work with it; one of its own where none is said. */
  group?: string;
  /** Nobody waits for it: it never takes the last free thread, and goes after all others. */
  background?: boolean;
}

export type OpenState = Extract<JobState, 'queued' | 'running' | 'paused'>;

export interface OpenJob {
  id: string;
  group: string | null;
  state: JobState;
  payload: unknown;
}

/** What a page may ask of a job. */
export interface JobQueue {
  start(): Promise<void>;
  stop(): Promise<void>;
  add(kind: JobKindId, shotId: string, payload: unknown, total: number, about?: About): Promise<string>;
  /** Jobs of a shot that wait, run or are paused, with what they were asked for. */
  openOnes(shotId: string, kind: JobKindId): Promise<OpenJob[]>;
  /** Jobs of a shot, the newest first, with their results and with what lies at some JSON paths of what they were asked for. */
  details(shotId: string, kind: JobKindId, paths: Record<string, string>): Promise<{ job: JobSummary; read: Record<string, unknown>; result: unknown }[]>;
  countDone(shotId: string, kind: JobKindId): Promise<number>;
  /** How many jobs are not over, in each state. */
  counts(): Promise<Record<OpenState, number>>;
  /** Takes a job that is over out of the list. */
  forget(id: string): Promise<void>;
  /** What work of a kind costs here, and how much of it goes on at a time. */
  cost(kind: string): Cost;
  readonly threads: number;
  /** Looks for waiting jobs now, after one was put in by other means. */
  wake(): void;
  get(id: string): Promise<JobSummary>;
  list(where: { shotId?: string; open?: boolean }): Promise<JobSummary[]>;
  act(id: string, action: 'pause' | 'resume' | 'cancel'): Promise<void>;
  subscribe(listener: (job: JobSummary) => void): () => void;
}
