import { writeFile } from 'node:fs/promises';
import { type CliOptions, WrongCall } from './call.ts';
import { withServices } from './open.ts';

export async function documentCommand(options: CliOptions): Promise<void> {
  const { shot, out } = options;
  if (!shot || !out) throw new WrongCall('Name the shot and the file: ./mottrel cli document --shot ID --out FILE.json');
  const { document } = await withServices(options.data, false, ({ changes }) => changes.load(shot));
  await writeFile(out, `${JSON.stringify(document, null, 2)}\n`);
  console.log(`Wrote ${out}`);
}
