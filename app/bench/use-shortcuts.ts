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

export function useShortcuts(commands: readonly Command[]): void {
  const own = useKeyMap();
  useEffect(openKeyMap, []);
  useEffect(() => {
    const bindings: Record<string, (event: KeyboardEvent) => void> = {};
    for (const command of commands)
      for (const keys of bindOf(own, command.id))
        bindings[keys] = (event) => {
          if (event.defaultPrevented || (isTyping(event) && !EVERYWHERE.includes(command.id))) return;
          const target = event.target as HTMLElement;
          // Space presses the button that has the focus, as everywhere.
          if (event.key === ' ' && target.closest('button, a, [role=slider], [role=switch], [role=radio]') && !target.matches('[data-viewer]')) return;
          event.preventDefault();
          command.run();
        };
    return tinykeys(window, bindings);
  }, [commands, own]);
}
