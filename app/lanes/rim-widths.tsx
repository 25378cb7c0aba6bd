/** How far the rim of a subject goes: the same for all that lies in it. */
import type { LaneItem } from '~/core/document/schema.ts';
import { NumberSetting } from '../settings/fields.tsx';
import { useShot } from '../state/shot-context.tsx';

const WIDTHS = [
  { key: 'inner', label: 'Rim inwards', about: 'How far the band along the edge goes into the subject.' },
  { key: 'outer', label: 'Rim outwards', about: 'How far it goes out of the subject.' },
  { key: 'softness', label: 'Rim fades', about: 'Over how much its borders fade.' },
] as const;

export function RimWidths({ item }: { item: LaneItem }) {
  const subject = useShot((s) => s.document.cast.find((c) => c.id === item.subject));
  return (
    subject &&
    WIDTHS.map(({ key, label, about }) => (
      <NumberSetting
        key={key}
        record={subject.id}
        setting={`rim.${key}`}
        value={subject.rim[key]}
        label={label}
        about={about}
        unit="px"
        min={0}
        max={2000}
        step={0.5}
        soft={[0, 80]}
      />
    ))
  );
}
