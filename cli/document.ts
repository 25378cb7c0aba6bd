import { writeFile } from 'node:fs/promises';
import { type CliOptions, WrongCall } from './call.ts';
import { withServices } from './open.ts';

export async function documentCommand(options: CliOptions): Promise<void> {
  const { shot, out } = options;
  if (!shot || !out) throw new WrongCall('Name the shot and the file: ./mottrel cli document --shot ID --out FILE.json');
  const { text } = await withServices(options.data, false, ({ documentFile }) => documentFile(shot));
  await writeFile(out, text);
  console.log(`Wrote ${out}`);
}
