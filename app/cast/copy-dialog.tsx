/** Where a copy of a part should go: another subject, another shot of the production, or other frames. */

import { Dialog } from 'radix-ui';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { standingAlone } from '~/core/document/follow.ts';
import { kindOfPart } from '~/core/document/part-kinds/index.ts';
import { copyOf, newSubject } from '~/core/document/records.ts';
import type { Part } from '~/core/document/schema.ts';
import { keysLater } from '~/core/time/animated.ts';
import { changeElsewhere } from '../state/change-elsewhere.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import { Button, TEXT_FIELD } from '../ui/controls.tsx';

const newId = () => crypto.randomUUID();

/** The part with all that lies on frames `by` frames later. */
const later = (part: Part, by: number): Part => ({ ...kindOfPart(part).later(part, by), opacity: keysLater(part.opacity, by) });

export function CopyDialog({ part, onClose }: { part: Part | null; onClose(): void }) {
  const store = useShotStore();
  const { otherShots } = useWorkbench();
  const cast = useShot((s) => s.history.settled.cast);
  const [where, setWhere] = useState('');
  const [by, setBy] = useState(0);
  const own = cast.find((s) => s.parts.some((p) => p.id === part?.id));
  useEffect(() => {
    setWhere(own ? `subject:${own.id}` : '');
    setBy(0);
  }, [own?.id, part?.id]);
  const copy = async () => {
    if (!part) return;
    const [kind, id] = where.split(':');
    // A track is of this shot and these frames.
    const free = kind === 'subject' && by === 0 ? part : standingAlone(store.getState().document, part);
    const record = copyOf(later(free, by), newId);
    onClose();
    if (kind === 'subject') {
      const subject = cast.find((s) => s.id === id);
      const name = subject === own ? `${part.name} copy` : part.name;
      if (subject && store.getState().commit('Copy part', [{ kind: 'insert', parent: id, index: subject.parts.length, record: { ...record, name } }]))
        store.getState().select(record.id);
      return;
    }
    const subject = { ...newSubject(newId(), own?.name ?? part.name), parts: [record] };
    try {
      await changeElsewhere(id, `Copy ${part.name} from another shot`, [{ kind: 'insert', parent: 'cast', index: 0, record: subject }]);
      toast.success(`${part.name} is now in ${otherShots.find((s) => s.id === id)?.name}.`);
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'The copy could not be made.');
    }
  };
  return (
    <Dialog.Root open={part !== null} onOpenChange={onClose}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content
          aria-describedby={undefined}
          className="-translate-x-1/2 fixed top-1/3 left-1/2 z-50 w-96 space-y-3 rounded-lg border border-line bg-panel p-5 text-sm shadow-xl"
        >
          <Dialog.Title className="font-semibold text-base">Copy {part?.name}</Dialog.Title>
          <label className="block">
            <span className="mb-1 block">To</span>
            <select className={TEXT_FIELD} value={where} onChange={(e) => setWhere(e.target.value)}>
              {cast.map((s) => (
                <option key={s.id} value={`subject:${s.id}`}>
                  {s.name}
                </option>
              ))}
              {otherShots.map((s) => (
                <option key={s.id} value={`shot:${s.id}`}>
                  Shot {s.name}
                </option>
              ))}
            </select>
          </label>
          <label className="flex items-center gap-2">
            <span className="flex-1">Later by</span>
            <input
              type="number"
              className={`${TEXT_FIELD} !w-24 text-right font-mono`}
              value={by}
              onChange={(e) => setBy(Math.round(e.target.valueAsNumber) || 0)}
            />
            <span className="text-quiet">frames</span>
          </label>
          <div className="flex justify-end gap-2 pt-1">
            <Button onClick={onClose}>Cancel</Button>
            <Button tone="strong" onClick={copy}>
              Copy
            </Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
