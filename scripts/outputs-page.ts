/** The page on outputs, made from the registry. */
import type { OptionDescription } from '../server/outputs/format.ts';
import { FORMATS } from '../server/outputs/formats/index.ts';

const INTRO = `# Kinds of outputs

What can be written of a shot, and as what. On the Output bench choose it under _What_; on the command line it is \`./mottrel cli output --kind\`.
After writing, frames are read back and held to what was rendered ([what can be trusted](trust.md)).
`;

const values = (option: OptionDescription): string => (option.kind === 'switch' ? option.says : option.options.map((o) => o.label).join(', '));

export const outputsPage = (): string =>
  `${INTRO}
| What | \`--kind\` | Files | Values | Options |
| ---- | -------- | ----- | ------ | ------- |
${FORMATS.map(({ label, name, single, colour, options }) => {
  const own = Object.values(options).map((option) => `${option.label}: ${values(option)}`);
  return `| ${label} | \`${name}\` | ${single ? 'one movie' : 'one a frame'} | ${colour} | ${own.join('; ')} |`;
}).join('\n')}
`;
