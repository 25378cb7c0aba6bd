/** Keys all settings of what a panel is about at once. */
import { KeySquare } from 'lucide-react';
import { keyAllEdits } from '../keys/all-settings.ts';
import type { KeyedSetting } from '../keys/columns.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import { IconButton } from '../ui/controls.tsx';

/** @param of whose settings they are, in words: "edge", "gaussian blur" */
export function KeyAll({ of, settings }: { of: string; settings: readonly KeyedSetting[] }) {
  const store = useShotStore();
  const { view } = useWorkbench();
  return (
    <IconButton
      label={`Key all settings of ${of} on this frame`}
      shortcut="keyAll"
      about="K alone keys only what has keys already."
      onClick={() => store.getState().commit('Key all settings', keyAllEdits(settings, view.getState().frame))}
    >
      <KeySquare />
    </IconButton>
  );
}
