/** Telling processes apart: a number alone may belong to another program by now. */
import { readFileSync, statSync } from 'node:fs';

/**
 * What no other process on this machine has: when it was started, in ticks since the machine was, and which start of the machine
 * that was (proc(5), field 22 of stat). Null where there is no such process, or it is another user's.
 */
export function processMark(pid: number): string | null {
  try {
    if (process.getuid && statSync(`/proc/${pid}`).uid !== process.getuid()) return null;
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    // The name of the program, in parentheses, may hold anything; the state that follows it is Z for one that has ended.
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
    if (fields[0] === 'Z') return null;
    return `${readFileSync('/proc/sys/kernel/random/boot_id', 'utf8').trim()}:${fields[19]}`;
  } catch {
    return null;
  }
}

/** The arguments that a process of this user was started with; none where there is no such process. */
export function processArguments(pid: number): string[] {
  if (processMark(pid) === null) return [];
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').split('\0').filter(Boolean);
  } catch {
    return [];
  }
}
