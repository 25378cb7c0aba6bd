/** What a kind of job is: what it is called, what it is handed and gives, and what it does in its thread and around it. */
import type { z } from 'zod';
import type { Changes } from '../changes.ts';
import type { Config } from '../config.ts';
import type { Outputs } from '../outputs/outputs.ts';
import type { Peels } from '../peel/peels.ts';
import type { Problem } from '../problem.ts';
import type { Shots } from '../shots.ts';
import type { Tracks } from '../track/tracks.ts';

/** How work tells how far it is, and hears that it is to stop. */
export interface Control {
  onProgress(done: number): void;
  signal: AbortSignal;
}

/** A job as its kind sees it outside the thread. */
export interface JobHandle<P> {
  id: string;
  shotId: string;
  payload: P;
  /** Replaces what it is to do from here on. */
  setPayload(payload: P): Promise<void>;
  /** What is left counts from here on. */
  restart(total: number): void;
}

/** What kinds need of the server. */
export interface JobServices {
  config: Config;
  shots: Shots;
  changes: Changes;
  outputs: Outputs;
  peels: Peels;
  tracks: Tracks;
}

/** @typeParam P what it was asked for, kept in the database; `T` what the thread is handed; `R` what comes back. All are parsed where they arrive. */
export interface JobKind<P = unknown, T = unknown, R = unknown> {
  /** What people are told that it does: "Carrying". */
  doing: string;
  payload: z.ZodType<P>;
  task: z.ZodType<T>;
  result: z.ZodType<R>;
  /** In the thread. Throws Stopped where the signal asked for it, with what it had found by then where a part of it can be kept. */
  work(task: T, control: Control): Promise<R>;
  prepare(job: JobHandle<P>, services: JobServices): Promise<T>;
  finish?(job: JobHandle<P>, result: R, services: JobServices): Promise<void>;
  /** Keeps what was found by a job that was paused, or shut down with the server, so that it goes on from there; without it, what the thread wrote is all there is. */
  pause?(job: JobHandle<P>, found: R, services: JobServices): Promise<void>;
  /** Puts away what an unfinished job left, after a failure, of which is told why, or a cancel. */
  abandon?(job: Pick<JobHandle<P>, 'id' | 'shotId'>, services: JobServices, problem: Problem | null): Promise<void>;
}

/** A kind with its own types, as any kind: each place that handles it parses first. */
export const defineKind = <P, T, R>(kind: JobKind<P, T, R>): JobKind => kind as unknown as JobKind;
