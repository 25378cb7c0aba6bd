/** Fields for the settings that a kind of effect or element describes; those of a group stand together, folded away. */
import { ChevronRight } from 'lucide-react';
import { Collapsible } from 'radix-ui';
import { descriptionsOf } from '~/core/compose/lane-items.ts';
import type { ElementEffect, LaneItem } from '~/core/document/schema.ts';
import { MATTE_GROUP } from '~/core/effects/matte-settings.ts';
import type { SettingDescription } from '~/core/effects/settings.ts';
import { type Animated, hasKeys } from '~/core/time/animated.ts';
import { CurveSetting } from '../settings/curve-setting.tsx';
import { ColourSetting, KeyedChoice, NumberSetting } from '../settings/fields.tsx';
import { StopsSetting } from '../settings/stops-setting.tsx';

type Described = LaneItem | ElementEffect;

/** What has no say where an element is placed by its corners. */
const OF_THE_MIDDLE = ['x', 'y', 'scale', 'turn'];

/** A field for each setting that the kind describes. */
export function DescribedSettings({ item }: { item: Described }) {
  const pinned = item.type === 'element' && item.corners !== null;
  const all = Object.entries(descriptionsOf(item)).filter(([key]) => !pinned || !OF_THE_MIDDLE.includes(key));
  const groups = [...new Set(all.flatMap(([, { group }]) => group ?? []))];
  const fields = (group: string | undefined) =>
    all
      .filter(([, described]) => described.group === group)
      .map(([key, described]) => <DescribedSetting key={key} item={item} name={key} described={described} />);
  return (
    <>
      {fields(undefined)}
      {groups.map((group) => (
        <Group
          key={group}
          title={group}
          // A matte was chosen to be set.
          wanted={group === MATTE_GROUP}
          changed={all.some(([key, described]) => described.group === group && isChanged(item, key, described))}
        >
          {fields(group)}
        </Group>
      ))}
    </>
  );
}

const isChanged = (item: Described, key: string, { start }: SettingDescription): boolean => {
  const own = item.settings[key];
  return own !== undefined && (hasKeys(own) || JSON.stringify(own.constant) !== JSON.stringify(start));
};

/** Opens by itself where something in it was set. */
function Group({ title, changed, wanted, children }: { title: string; changed: boolean; wanted: boolean; children: React.ReactNode }) {
  return (
    <Collapsible.Root defaultOpen={changed || wanted}>
      <Collapsible.Trigger className="group flex h-7 w-full items-center gap-1 px-2 text-sm hover:bg-raised">
        <ChevronRight className="size-3.5 shrink-0 text-quiet group-data-[state=open]:rotate-90" />
        {title}
        {changed && <span className="text-quiet text-xs">set</span>}
      </Collapsible.Trigger>
      <Collapsible.Content>{children}</Collapsible.Content>
    </Collapsible.Root>
  );
}

function DescribedSetting({ item, name, described }: { item: Described; name: string; described: SettingDescription }) {
  const value = item.settings[name] ?? { constant: described.start };
  const common = { record: item.id, setting: `settings.${name}`, label: described.label, about: described.about };
  switch (described.kind) {
    case 'colour':
      return <ColourSetting {...common} value={value as Animated<number[]>} />;
    case 'choice':
      return <KeyedChoice {...common} value={value as Animated<string>} options={described.options} />;
    case 'curve':
      return <CurveSetting {...common} value={value as Animated<number[]>} />;
    case 'stops':
      return <StopsSetting {...common} value={value as Animated<number[]>} />;
    case 'number': {
      const { unit, min, max, step, usual } = described;
      return <NumberSetting {...common} value={value as Animated<number>} unit={unit} min={min} max={max} step={step} soft={usual} />;
    }
  }
}
