/** Choosing among the shots of the production, this one first. */
import type { ShownFootage } from '~/core/document/schema.ts';
import { ChoiceSetting } from '../settings/fields.tsx';
import { type ChosenFootage, useFootage } from '../state/footage.ts';

const NOTHING = 'nothing';

/** @param none what stands for no footage; `onNone` lets it be chosen again where there is some */
export function FootageChoice(props: {
  label: string;
  about: string;
  none: string;
  shown: ShownFootage | null;
  onChoose(chosen: ChosenFootage): void;
  onNone?(): void;
}) {
  const { label, about, none, shown, onChoose, onNone } = props;
  const choices = useFootage('This shot');
  const known = shown === null || choices.some((c) => c.plateId === shown.id);
  return (
    <ChoiceSetting
      label={label}
      about={about}
      value={shown?.id ?? NOTHING}
      options={[
        ...(shown && !onNone ? [] : [{ id: NOTHING, label: none }]),
        ...(known || !shown ? [] : [{ id: shown.id, label: 'Footage of its own' }]),
        ...choices.map((c) => ({ id: c.plateId, label: c.name })),
      ]}
      onChange={(id) => {
        const chosen = choices.find((c) => c.plateId === id);
        if (chosen) onChoose(chosen);
        else if (id === NOTHING) onNone?.();
      }}
    />
  );
}
