/** Outputs in words. */
import { type Delivery, deliveredFile, deliveredNumber, deliveredSize, deliverySchema, PLAIN_DELIVERY, withHandles } from '~/core/document/delivery.ts';
import type { FrameRange } from '~/core/time/ranges.ts';
import type { FormatDescription, OutputSpec } from '~/server/outputs/format.ts';
import type { PlateFacts } from '../state/workbench-context.tsx';

/** What was chosen in a format, in words. */
const optionWords = (format: FormatDescription | undefined, spec: OutputSpec): string[] =>
  Object.entries(format?.options ?? {}).flatMap(([id, option]) => {
    const label = option.kind === 'choice' && option.options.find((o) => o.value === spec[id])?.label;
    return label ? [label.toLowerCase()] : [];
  });

/** How it is handed over, as far as that is not plain. */
export function deliveryWords(delivery: Delivery | undefined, plate: PlateFacts): string[] {
  const { size, handles, name, start, note } = delivery ?? PLAIN_DELIVERY;
  const { width, height } = deliveredSize({ size }, plate);
  return [
    ...(size === 'full' ? [] : [`${width}×${height}`]),
    ...(handles > 0 ? [`${handles} more at both ends`] : []),
    ...(start === null ? [] : [`from number ${start}`]),
    ...(name === '' ? [] : [`as ${name}`]),
    ...(note ? ['with a note'] : []),
  ];
}

/** An output in one line: which frames, of whom, and how. */
export const specWords = (spec: OutputSpec, format: FormatDescription | undefined, plate: PlateFacts, subjectName: string | null | undefined): string =>
  [
    `${spec.first + plate.firstNumber}–${spec.last + plate.firstNumber}`,
    ...optionWords(format, spec),
    ...deliveryWords(spec.delivery, plate),
    subjectName,
    spec.hold ? 'held still' : null,
  ]
    .filter(Boolean)
    .join(', ');

/** What is wrong with a delivery; null: nothing. */
export const deliveryFault = (delivery: Delivery): string | null => deliverySchema.safeParse(delivery).error?.issues[0].message ?? null;

/** Names of the first and the last file, as the server will call them. */
export function exampleNames(
  { what, pattern, extension, single }: FormatDescription,
  delivery: Delivery,
  { plate, shot, subject, asked }: { plate: PlateFacts; shot: string; subject: string | undefined; asked: FrameRange },
): string[] {
  const range = withHandles(asked, delivery.handles, plate.frames);
  const nameOf = (number?: number) => deliveredFile({ what, pattern, extension }, delivery, { shot, subject, plate, range }, number);
  const numberOf = (frame: number) => deliveredNumber(delivery, frame - range.first, range.first + plate.firstNumber);
  return single ? [nameOf()] : [...new Set([range.first, range.last])].map((frame) => nameOf(numberOf(frame)));
}
