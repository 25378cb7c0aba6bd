/** Of an effect inside a subject that moves or spreads pixels: whether it may take the subject out of its outline, and what is seen behind it then. */

import type { LaneEffect } from '~/core/document/schema.ts';
import { changesShape } from '~/core/effects/effect.ts';
import { effectById } from '~/core/effects/index.ts';
import { SwitchSetting } from '../settings/fields.tsx';
import { shownFootage } from '../state/footage.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { FootageChoice } from './footage-choice.tsx';

export function LeavesOutline({ item }: { item: LaneEffect }) {
  const store = useShotStore();
  const subject = useShot((s) => s.document.cast.find((c) => c.id === item.subject));
  if (item.lane !== 'inside' || !subject || !changesShape(effectById(item.effect))) return null;
  const set = (label: string, id: string, values: { leaves: boolean } | Pick<typeof subject, 'clean'>) =>
    store.getState().commit(label, [{ kind: 'assign', id, values }]);
  return (
    <>
      <SwitchSetting
        label="May leave the outline"
        about={`On: ${subject.name} is taken out of the plate and laid over what was behind it, changed. Off: only what is within the outline changes.`}
        checked={item.leaves}
        onChange={(leaves) => set(leaves ? 'Let it leave the outline' : 'Keep it within the outline', item.id, { leaves })}
      />
      {item.leaves && (
        <>
          <FootageChoice
            label="Clean plate"
            about={`The same view without ${subject.name}: seen where it was.`}
            none="Computed"
            shown={subject.clean}
            onChoose={(chosen) => set('Set clean plate', subject.id, { clean: shownFootage(chosen) })}
            onNone={() => set('Set clean plate', subject.id, { clean: null })}
          />
          {!subject.clean && <p className="px-3 pb-1 text-quiet text-xs">Computed from what lies round {subject.name} on the same frame.</p>}
        </>
      )}
    </>
  );
}
