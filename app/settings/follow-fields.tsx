/** What something follows, and how: for curves and for elements. */
import type { Follow } from '~/core/document/schema.ts';
import { clamp } from '~/core/math/clamp.ts';
import { ASPECTS, type Aspect } from '~/core/math/motion.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';
import { ChoiceSetting, CoordinateField } from './fields.tsx';

const ASPECT_WORDS: Record<Aspect, string> = { position: 'Position', turn: 'Turn', scale: 'Scale', shape: 'Shape' };
const NONE = 'none';

/** What is followed; nothing where there is nothing that could be. */
export function FollowedLeader(props: {
  follow: Follow | null;
  about: string;
  leaders: readonly { id: string; label: string }[];
  onLeader(id: string | null): void;
}) {
  const { follow, about, leaders, onLeader } = props;
  if (leaders.length === 0) return null;
  return (
    <ChoiceSetting
      label="Follows"
      about={about}
      value={follow?.track ?? NONE}
      options={[{ id: NONE, label: 'Nothing' }, ...leaders]}
      onChange={(id) => onLeader(id === NONE ? null : id)}
    />
  );
}

/** What is taken of its motion, and the frame on which what follows is where it was put. @param as says what that frame means */
export function FollowTakes({ record, follow, as }: { record: string; follow: Follow; as: string }) {
  const store = useShotStore();
  const { plate } = useWorkbench();
  const set = (label: string, values: Partial<Follow>) =>
    store.getState().commit(label, [{ kind: 'assign', id: record, values: { follow: { ...follow, ...values } } }]);
  return (
    <>
      <div className="flex items-center gap-2 px-3 py-1 text-sm" role="group" aria-label="What they take of it">
        <span className="w-20 shrink-0">Takes</span>
        <span className="flex flex-wrap gap-1">
          {ASPECTS.map((aspect) => {
            const has = follow.takes.includes(aspect);
            const takes = ASPECTS.filter((a) => (a === aspect ? !has : follow.takes.includes(a)));
            return (
              <Button
                key={aspect}
                aria-pressed={has}
                disabled={takes.length === 0}
                className="!h-6 !px-1.5 text-xs aria-pressed:border-edge aria-pressed:text-white [&:not([aria-pressed=true])]:text-quiet"
                title={aspect === 'shape' ? 'Skew, uneven scale and perspective' : undefined}
                onClick={() => set(has ? 'Take less of a motion' : 'Take more of a motion', { takes })}
              >
                {ASPECT_WORDS[aspect]}
              </Button>
            );
          })}
        </span>
      </div>
      <div className="flex items-center gap-2 px-3 py-1 text-sm" title={as}>
        <span className="w-20 shrink-0">Set on</span>
        <span className="w-24">
          <CoordinateField
            label="frame"
            digits={0}
            value={follow.frame + plate.firstNumber}
            onValue={(f) => set('Set frame of following', { frame: clamp(Math.round(f) - plate.firstNumber, 0, plate.frames - 1) })}
          />
        </span>
      </div>
    </>
  );
}
