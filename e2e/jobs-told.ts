/** What docs/jobs.md tells of a job. */
import { readFileSync } from 'node:fs';

/** The number of actions that it takes. */
export function told(job: number): number {
  const row = readFileSync('docs/jobs.md', 'utf8')
    .split('\n')
    .find((line) => new RegExp(`^\\| ${job} +\\|`).test(line));
  return Number(row?.split('|').at(-2));
}
