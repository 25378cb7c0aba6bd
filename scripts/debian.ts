/** Debian packages that are needed: what is missing, and installing it where that is allowed. */
import { spawnSync } from 'node:child_process';
import { accessSync, constants } from 'node:fs';
import path from 'node:path';

interface Need {
  program: string;
  package: string;
}

export const TO_RUN: Need[] = [
  { program: 'mariadbd', package: 'mariadb-server' },
  { program: 'mariadb', package: 'mariadb-client' },
  { program: 'ffmpeg', package: 'ffmpeg' },
];
export const TO_TEST: Need[] = [...TO_RUN, { program: 'python3', package: 'python3' }, { program: 'chromium', package: 'chromium' }];

const onPath = (program: string): boolean =>
  [...(process.env.PATH ?? '').split(':'), '/usr/sbin', '/usr/local/sbin'].some((dir) => {
    try {
      accessSync(path.join(dir, program), constants.X_OK);
      return true;
    } catch {
      return false;
    }
  });

/** Installs what is missing, or throws saying what it is and how to get it. */
export function ensurePackages(needs: Need[]): void {
  // Servers live in sbin, which is not on everyone's path.
  process.env.PATH = `${process.env.PATH}:/usr/sbin:/usr/local/sbin`;
  const missing = needs.filter((n) => !onPath(n.program)).map((n) => n.package);
  if (missing.length === 0) return;
  const command = `apt-get install --no-install-recommends ${missing.join(' ')}`;
  const byHand = new Error(`These Debian packages are missing: ${missing.join(', ')}.\nInstall them with: sudo ${command}`);
  const asRoot = process.getuid?.() === 0;
  const sudo = !asRoot && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status === 0;
  if ((!asRoot && !sudo) || !onPath('apt-get')) throw byHand;
  console.log(`Installing ${missing.join(', ')} …`);
  const apt = (...args: string[]) => {
    const [program, rest] = asRoot ? ['apt-get', args] : ['sudo', ['-n', 'apt-get', ...args]];
    const result = spawnSync(program, rest, { encoding: 'utf8', env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }, maxBuffer: 64 * 1024 * 1024 });
    if (result.status !== 0) throw new Error(`${byHand.message}\nTrying it here failed:\n${(result.stderr ?? '').slice(-1500)}`);
  };
  apt('update', '-qq');
  apt('install', '-y', '-qq', '--no-install-recommends', ...missing);
}
