/** Asks for another name of something in the shot. */
import { useShotStore } from '../state/shot-context.tsx';
import { NameDialog } from './name-dialog.tsx';

export interface Named {
  id: string;
  name: string;
}

export function RenameDialog({ of, onClose }: { of: Named | null; onClose(): void }) {
  const store = useShotStore();
  return (
    <NameDialog
      title="Rename"
      label="Name"
      confirm="Rename"
      start={of?.name}
      open={of !== null}
      onOpenChange={onClose}
      onName={(name) => of && store.getState().commit('Rename', [{ kind: 'assign', id: of.id, values: { name } }])}
    />
  );
}
