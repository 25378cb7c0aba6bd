/** The page on outputs, made from the registry. */
import type { OptionDescription } from '../server/outputs/format.ts';
import { FORMATS } from '../server/outputs/formats/index.ts';

const INTRO = `# Kinds of outputs

What can be written of a shot, and as what. On the Output bench choose it under _What_; on the command line it is \`./mottrel cli output --kind\`.
After writing, frames are read back and held to what was rendered ([what can be trusted](trust.md)).
`;

const values = (option: OptionDescription): string => (option.kind === 'switch' ? option.says : option.options.map((o) => o.label).join(', '));

/** A table whose columns stand under each other. */
function table(rows: readonly string[][]): string {
  const widths = rows[0].map((_, c) => Math.max(...rows.map((row) => row[c].length)));
  const line = (row: readonly string[]) => `| ${row.map((cell, c) => cell.padEnd(widths[c])).join(' | ')} |`;
  const [head, ...body] = rows;
  return [line(head), line(widths.map((width) => '-'.repeat(width))), ...body.map(line)].join('\n');
}

export const outputsPage = (): string => {
  const rows = FORMATS.map(({ label, name, single, colour, options }) => {
    const own = Object.values(options).map((option) => `${option.label}: ${values(option)}`);
    return [label, `\`${name}\``, single ? 'one movie' : 'one a frame', colour, own.join('; ')];
  });
  return `${INTRO}\n${table([['What', '`--kind`', 'Files', 'Values', 'Options'], ...rows])}\n`;
};
