/** The finished picture as a whole: in what it is mixed, how it is framed, and at what speed it goes. */

import { SHOT, type ShotDocument } from '~/core/document/schema.ts';
import { newLaneEffect } from '~/core/effects/lane-effect.ts';
import { ChoiceSetting } from '../settings/fields.tsx';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';

export function WholePicture() {
  const store = useShotStore();
  const { view } = useWorkbench();
  const light = useShot((s) => s.document.light);
  const framing = useShot((s) => s.document.lanes.find((l) => l.type === 'effect' && l.effect === 'framing' && l.lane === 'front'));
  const timed = useShot((s) => s.document.timing !== null);
  const selected = useShot((s) => s.selected);
  const frame = () => {
    if (framing) return store.getState().select(framing.id);
    const { document, commit } = store.getState();
    const record = newLaneEffect(crypto.randomUUID(), 'front', null, 'framing', document.plate);
    if (!commit('Add framing', [{ kind: 'insert', parent: 'lanes', index: document.lanes.length, record }])) return;
    store.getState().select(record.id);
    view.getState().setView('composed');
  };
  return (
    <section aria-label="The whole picture" className="pt-1">
      <p className="px-3 py-1 text-quiet text-xs">Behind everything: the plate. The picture as a whole:</p>
      <div className="flex flex-wrap gap-1 px-3 py-1">
        <Button
          className="!h-7"
          aria-pressed={framing !== undefined && selected === framing.id}
          title="Position, scale and turn of the whole picture, over time"
          onClick={frame}
        >
          Framing{framing ? '' : ' …'}
        </Button>
        <Button
          className="!h-7"
          aria-pressed={selected === SHOT}
          title="Its speed: quicker, slower, held, backwards; sound along or not"
          onClick={() => store.getState().select(SHOT)}
        >
          Timing{timed ? '' : ' …'}
        </Button>
      </div>
      <ChoiceSetting<ShotDocument['light']>
        label="Mixes in"
        about="In what pictures of this shot are laid over one another and blurred. In linear light, blurs and soft edges of what is bright stay bright."
        value={light}
        options={[
          { id: 'plate', label: 'The plate’s values' },
          { id: 'linear', label: 'Linear light' },
        ]}
        onChange={(to) =>
          store.getState().commit(to === 'linear' ? 'Mix in linear light' : 'Mix in the plate’s values', [{ kind: 'assign', id: SHOT, values: { light: to } }])
        }
      />
    </section>
  );
}
