/** ./mottrel test: every check, one after the other, closing with one line "N passed, N failed". */
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { ROOT } from '../server/config.ts';
import { ensureBuilt } from './build.ts';
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
  return { passed: stats.expected + stats.flaky, failed: stats.unexpected };
});

/** Runs everything, also after a failure, and gives the exit code. */
export async function runTests(): Promise<number> {
  ensurePackages(TO_TEST);
  mkdirSync(RESULTS, { recursive: true });
  const steps: [string, () => Count][] = [
    [
      'Build',
      () => {
        ensureBuilt();
        return { passed: 1, failed: 0 };
      },
    ],
    ['Types', check(['npm', 'run', '--silent', 'typecheck'])],
    ['Lint', check(['npm', 'run', '--silent', 'lint'])],
    ['Import rules', check(['npm', 'run', '--silent', 'rules'])],
    ['Unit tests', vitest('unit')],
    ['Integration tests', vitest('integration')],
    ['End-to-end tests', playwright],
  ];
  const total: Count = { passed: 0, failed: 0 };
  for (const [name, step] of steps) {
    console.log(`\n── ${name}`);
    const began = Date.now();
    let count: Count;
    try {
      count = step();
    } catch (error) {
      console.error((error as Error).message);
      count = { passed: 0, failed: 1 };
    }
    total.passed += count.passed;
    total.failed += count.failed;
    console.log(`── ${name}: ${count.passed} passed, ${count.failed} failed, ${((Date.now() - began) / 1000).toFixed(0)} s`);
  }
  console.log(`\n${total.passed} passed, ${total.failed} failed`);
  return total.failed > 0 ? 1 : 0;
}
