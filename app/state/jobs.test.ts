import { describe, expect, it } from 'vitest';
import type { JobSummary } from '~/server/jobs/queue.ts';
import { stateWords, worksOf } from './jobs.ts';

const job = (id: string, more: Partial<JobSummary>): JobSummary => ({
  id,
  group: id,
  kind: 'carry',
  doing: 'Carrying',
  label: 'Trike and rider',
  shotId: 's',
  state: 'running',
  done: 0,
  total: 40,
  secondsLeft: 20,
  ahead: null,
  message: null,
  createdAt: `2026-01-01T00:00:0${id.length}.000Z`,
  ...more,
});

describe('works', () => {
  it('are one for the jobs that go on at the same time: what is done adds up, the longest counts', () => {
    const both = [job('back', { group: 'g', done: 10, total: 41, secondsLeft: 12 }), job('on', { group: 'g', done: 4, total: 44, secondsLeft: 30 })];
    const works = worksOf(both);
    expect(works).toHaveLength(1);
    expect(works[0]).toMatchObject({ done: 14, total: 85, secondsLeft: 30, state: 'running' });
    expect(stateWords(works[0], false)).toBe('14 of 85 frames, 30 s left');
    expect(stateWords(works[0], true)).toBe('interrupted at 14 of 85 frames');
  });

  it('count a half that is done, and not one that was given up; with none open there is no work', () => {
    const half = job('back', { group: 'g', state: 'done', done: 41, total: 41, secondsLeft: null });
    const other = job('on', { group: 'g', done: 4, total: 44 });
    expect(worksOf([half, other])[0]).toMatchObject({ done: 45, total: 85 });
    expect(worksOf([{ ...half, state: 'cancelled' }, other])[0]).toMatchObject({ done: 4, total: 44 });
    expect(worksOf([half, { ...other, state: 'done' }])).toEqual([]);
  });

  it('that wait say for what, and how long', () => {
    const [first, second] = worksOf([job('a', {}), job('bb', { state: 'queued', secondsLeft: 95, ahead: 3 })]);
    expect([first.id, second.id]).toEqual(['a', 'bb']);
    expect(stateWords(second, false)).toBe('waits for 3 other works; 2 min left');
    expect(stateWords(worksOf([job('p', { state: 'paused', done: 3, secondsLeft: null })])[0], false)).toBe('paused at 3 of 40 frames');
  });
});
