/** Choosing among the shots of the production, this one first, and what is made in them. */
import type { ShownFootage } from '~/core/document/schema.ts';
import { ChoiceSetting } from '../settings/fields.tsx';
import { type ChosenFootage, chosenKey, footageKey, useFootage } from '../state/footage.ts';

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
  const key = shown && footageKey(shown);
  const known = key === null || choices.some((c) => chosenKey(c) === key);
  return (
    <ChoiceSetting
      label={label}
      about={about}
      value={key ?? NOTHING}
      options={[
        ...(shown && !onNone ? [] : [{ id: NOTHING, label: none }]),
        ...(known || !shown ? [] : [{ id: footageKey(shown), label: shown.made ? 'No longer there' : 'Footage of its own' }]),
        ...choices.map((c) => ({ id: chosenKey(c), label: c.name })),
      ]}
      onChange={(id) => {
        const chosen = choices.find((c) => chosenKey(c) === id);
        if (chosen) onChoose(chosen);
        else if (id === NOTHING) onNone?.();
      }}
    />
  );
}
