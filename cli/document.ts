import { writeFile } from 'node:fs/promises';
import { withServices } from './open.ts';

export async function documentCommand({ shot, out, data }: { shot: string; out: string; data?: string }): Promise<void> {
  const { text } = await withServices(data, false, ({ documentFile }) => documentFile(shot));
  await writeFile(out, text);
  console.log(`Wrote ${out}`);
}
