/** Binds the keys of the workbench to its commands. */
import { useEffect } from 'react';
import { tinykeys } from 'tinykeys';
import { bindOf, openKeyMap, useKeyMap } from '../state/key-map.ts';
import type { Command } from './commands.ts';

/** Keys belong to a field while one is typed in; single letters would end up in it. */
const isTyping = (event: KeyboardEvent): boolean => {
  const target = event.target as HTMLElement;
  return (
    target.matches('input:not([type=range]):not([type=checkbox]):not([type=color]), textarea, select, [contenteditable]') ||
    target.closest('[role=menu],[role=listbox],[role=dialog]') !== null
  );
};

/** What still is a command while a field has the focus: no field does anything with it. */
const EVERYWHERE = ['commands'];

/** What is a command in a field as well whose value was taken: there is nothing of its own to take back. */
const WHERE_TAKEN = ['undo', 'redo'];

const isOfField = (event: KeyboardEvent, { id }: Command): boolean =>
  isTyping(event) && !EVERYWHERE.includes(id) && !(WHERE_TAKEN.includes(id) && (event.target as HTMLElement).matches('[data-taken]'));

/** What is a command in the middle of a drag as well. All else would take the drag away from under the hand. */
const IN_DRAG = ['magnify'];

/** Whether a button of the pointer is held down on the picture. */
let dragging = false;
const follow = (event: PointerEvent): void => {
  if (event.type === 'pointerdown') dragging = (event.target as HTMLElement).closest('[data-viewer]') !== null;
  // Where it is let go of outside of the window, the next move tells.
  else if (event.buttons === 0) dragging = false;
};
const POINTER = ['pointerdown', 'pointermove', 'pointerup', 'pointercancel'] as const;

export function useShortcuts(commands: readonly Command[]): void {
  const own = useKeyMap();
  useEffect(openKeyMap, []);
  useEffect(() => {
    for (const type of POINTER) window.addEventListener(type, follow, true);
    return () => {
      for (const type of POINTER) window.removeEventListener(type, follow, true);
    };
  }, []);
  useEffect(() => {
    const bindings: Record<string, (event: KeyboardEvent) => void> = {};
    for (const command of commands)
      for (const keys of bindOf(own, command.id))
        bindings[keys] = (event) => {
          if (event.defaultPrevented || isOfField(event, command) || (dragging && !IN_DRAG.includes(command.id))) return;
          const target = event.target as HTMLElement;
          // Space presses the button that has the focus, as everywhere.
          if (event.key === ' ' && target.closest('button, a, [role=slider], [role=switch], [role=radio]') && !target.matches('[data-viewer]')) return;
          event.preventDefault();
          command.run();
        };
    return tinykeys(window, bindings);
  }, [commands, own]);
}
