/** Fields for the settings that a kind of effect or element describes. */
import { descriptionsOf } from '~/core/compose/lane-items.ts';
import type { ElementEffect, LaneItem } from '~/core/document/schema.ts';
import type { SettingDescription } from '~/core/effects/settings.ts';
import type { Animated } from '~/core/time/animated.ts';
import { ColourSetting, KeyedChoice, NumberSetting } from '../settings/fields.tsx';

type Described = LaneItem | ElementEffect;

/** What has no say where an element is placed by its corners. */
const OF_THE_MIDDLE = ['x', 'y', 'scale', 'turn'];

/** A field for each setting that the kind describes. */
export function DescribedSettings({ item }: { item: Described }) {
  const pinned = item.type === 'element' && item.corners !== null;
  return Object.entries(descriptionsOf(item))
    .filter(([key]) => !pinned || !OF_THE_MIDDLE.includes(key))
    .map(([key, described]) => <DescribedSetting key={key} item={item} name={key} described={described} />);
}

function DescribedSetting({ item, name, described }: { item: Described; name: string; described: SettingDescription }) {
  const value = item.settings[name] ?? { constant: described.start };
  const common = { record: item.id, setting: `settings.${name}`, label: described.label, about: described.about };
  if (described.kind === 'colour') return <ColourSetting {...common} value={value as Animated<number[]>} />;
  if (described.kind === 'choice') return <KeyedChoice {...common} value={value as Animated<string>} options={described.options} />;
  const { unit, min, max, step, usual } = described;
  return <NumberSetting {...common} value={value as Animated<number>} unit={unit} min={min} max={max} step={step} soft={usual} />;
}
