/** A whole Mottrel in a process of its own, for tests that talk to it over HTTP or kill it. */
import { type ChildProcess, spawn } from 'node:child_process';
import path from 'node:path';
import { PROGRAM, ROOT } from '../server/root.ts';

export interface RunningInstance {
  address: string;
  process: ChildProcess;
  /** Resolves with the exit code. */
  ended: Promise<number | null>;
  kill(signal: NodeJS.Signals): Promise<void>;
}

/** Starts on a data directory as ./mottrel start does, on a port of its own, without the demo unless asked for. */
export async function startInstance(dataDir: string, options: { demo?: boolean; port?: number; env?: Record<string, string> } = {}): Promise<RunningInstance> {
  const child = spawn(
    process.execPath,
    [path.join(PROGRAM, 'mottrel.js'), 'start', '--port', String(options.port ?? 0), '--data', dataDir, ...(options.demo ? [] : ['--empty'])],
    {
      cwd: ROOT,
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, ...options.env },
    },
  );
  const ended = new Promise<number | null>((resolve) => child.once('exit', resolve));
  let said = '';
  const address = await new Promise<string>((resolve, reject) => {
    const read = (chunk: Buffer) => {
      said += chunk.toString();
      const match = /Mottrel is at (\S+)/.exec(said);
      if (match) resolve(match[1]);
    };
    child.stdout.on('data', read);
    child.stderr.on('data', read);
    void ended.then((code) => reject(new Error(`It ended (${code}) before it was up:\n${said}`)));
  });
  return {
    address,
    process: child,
    ended,
    async kill(signal) {
      child.kill(signal);
      await ended;
    },
  };
}
