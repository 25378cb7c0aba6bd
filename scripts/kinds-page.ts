/** The page of the docs on effects and elements: what they are and what their settings do, as they describe themselves. */
import { EFFECTS } from '../core/effects/index.ts';
import { MATTE } from '../core/effects/matte-settings.ts';
import type { Descriptions } from '../core/effects/settings.ts';
import { ELEMENTS } from '../core/elements/index.ts';
import { PLACE } from '../core/elements/place.ts';
import { VARIANTS } from '../core/elements/variants.ts';
import { STARTS } from '../core/starts/starts.ts';

interface Kind {
  id: string;
  label: string;
  about: string;
  settings: Descriptions;
}

const cell = (text: string): string => text.replaceAll('|', '\\|');

const table = (settings: Descriptions): string =>
  Object.keys(settings).length === 0
    ? ''
    : [
        '| setting | what it does |',
        '| --- | --- |',
        ...Object.values(settings).map(({ label, about, group }) => `| ${cell(group && group !== 'Matte' ? `${group}: ${label}` : label)} | ${cell(about)} |`),
        '',
      ].join('\n');

const section = ({ id, label, about, settings }: Kind): string =>
  [`### ${label}`, '', `![${label}](../public/kinds/${id}.webp)`, '', about, '', table(settings)].join('\n');

export const kindsPage = (): string =>
  [
    '# Effects and elements',
    '',
    'What **+** in a lane offers. [Composing](composing.md) says how they go together. Pictures are of the demo film, behind or inside the courier.',
    '',
    '## Elements',
    '',
    ...ELEMENTS.map(section),
    ...VARIANTS.map(({ id, label, about }) => section({ id, label, about, settings: {} })),
    '## Where an element stands',
    '',
    'Elements with a box of their own have these besides.',
    '',
    table(PLACE),
    '## Effects',
    '',
    ...EFFECTS.map(section),
    '## Starts',
    '',
    "_Starts_ over the lanes lays out a usual job with its keys in proportion to the shot, and says what to do next. What is in a lane is kept as a start of your own by the lane's menu.",
    '',
    ...STARTS.map(({ id, label, about, steps }) =>
      [`### ${label}`, '', `![${label}](../public/kinds/start-${id}.webp)`, '', about, '', ...steps.map((step, i) => `${i + 1}. ${step}`), ''].join('\n'),
    ),
    '## A matte',
    '',
    'An element or an effect that has a matte is seen where, and as strongly as, that says.',
    '',
    table(MATTE),
  ].join('\n');
