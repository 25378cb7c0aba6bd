/** ./mottrel test: every check, one after the other, closing with one line "N passed, N failed". */
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { ROOT } from '../server/root.ts';
import { ensurePackages, TO_TEST } from './debian.ts';

interface Count {
  passed: number;
  failed: number;
}

const RESULTS = path.join(ROOT, 'test-results');

function run(command: string[]): boolean {
  const [program, ...args] = command;
  const { status } = spawnSync(program, args, { cwd: ROOT, stdio: ['ignore', 'inherit', 'inherit'] });
  return status === 0;
}

/** A check that passes or fails as a whole. */
const check = (command: string[]) => (): Count => (run(command) ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 });

/** Tests counted from the report that the runner writes; a runner that falls over without one counts as a failure. */
function counted(command: string[], report: string, read: (report: unknown) => Count): () => Count {
  return () => {
    const file = path.join(RESULTS, report);
    rmSync(file, { force: true });
    const ok = run(command);
    try {
      const count = read(JSON.parse(readFileSync(file, 'utf8')));
      return ok || count.failed > 0 ? count : { ...count, failed: 1 };
    } catch {
      return { passed: 0, failed: 1 };
    }
  };
}

const vitest = (project: string) =>
  counted(
    ['npx', 'vitest', 'run', '--project', project, '--reporter=default', '--reporter=json', `--outputFile.json=${path.join(RESULTS, `${project}.json`)}`],
    `${project}.json`,
    (report) => {
      const { numPassedTests, numFailedTests, numFailedTestSuites } = report as { numPassedTests: number; numFailedTests: number; numFailedTestSuites: number };
      return { passed: numPassedTests, failed: numFailedTests > 0 ? numFailedTests : numFailedTestSuites };
    },
  );

const playwright = counted(['npx', 'playwright', 'test'], 'e2e.json', (report) => {
  const { stats } = report as { stats: { expected: number; unexpected: number; flaky: number } };
  return { passed: stats.expected, failed: stats.unexpected + stats.flaky };
});

export type Part = 'unit' | 'integration' | 'e2e';

const steps: { name: string; part?: Part; step: () => Count }[] = [
  { name: 'Build', step: check(['node', 'scripts/build.mjs']) },
  { name: 'Types', step: check(['npm', 'run', '--silent', 'typecheck']) },
  { name: 'Lint', step: check(['npm', 'run', '--silent', 'lint']) },
  { name: 'Import rules', step: check(['npm', 'run', '--silent', 'rules']) },
  { name: 'Unused code', step: check(['npm', 'run', '--silent', 'unused']) },
  { name: 'Unit tests', part: 'unit', step: vitest('unit') },
  { name: 'Integration tests', part: 'integration', step: vitest('integration') },
  { name: 'End-to-end tests', part: 'e2e', step: playwright },
];

/** Runs everything, or `only` one part, also after a failure; gives the exit code. */
export async function runTests(only?: Part): Promise<number> {
  ensurePackages(TO_TEST);
  mkdirSync(RESULTS, { recursive: true });
  const total: Count = { passed: 0, failed: 0 };
  for (const { name, part, step } of steps) {
    if (only && part !== only && name !== 'Build') continue;
    console.log(`\n── ${name}`);
    const began = Date.now();
    const count = step();
    total.passed += count.passed;
    total.failed += count.failed;
    console.log(`── ${name}: ${count.passed} passed, ${count.failed} failed, ${((Date.now() - began) / 1000).toFixed(0)} s`);
  }
  console.log(`\n${total.passed} passed, ${total.failed} failed`);
  return total.failed > 0 ? 1 : 0;
}
