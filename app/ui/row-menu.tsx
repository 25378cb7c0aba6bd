import { clsx } from 'clsx';
import { MoreHorizontal, Trash2 } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { MENU, MENU_ITEM } from './controls.tsx';

/** What can be done with a thing in a list: rename, delete, and more of its own. `quiet` ones show on hover and focus only. */
export interface MenuAct {
  label: string;
  act(): void;
}

export function RowMenu({
  name,
  quiet = false,
  onRename,
  onDelete,
  more = [],
}: {
  name: string;
  quiet?: boolean;
  onRename(): void;
  onDelete(): void;
  more?: MenuAct[];
}) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        aria-label={`More for ${name}`}
        className={clsx(
          'relative z-10 flex size-6 shrink-0 items-center justify-center rounded text-quiet hover:bg-raised hover:text-ink',
          quiet && 'opacity-0 focus-visible:opacity-100 group-hover:opacity-100 data-[state=open]:opacity-100',
        )}
      >
        <MoreHorizontal className="size-4" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className={MENU} align="end">
          <DropdownMenu.Item className={MENU_ITEM} onSelect={onRename}>
            Rename …
          </DropdownMenu.Item>
          {more.map(({ label, act }) => (
            <DropdownMenu.Item key={label} className={MENU_ITEM} onSelect={act}>
              {label}
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Item className={MENU_ITEM} onSelect={onDelete}>
            <Trash2 /> Delete
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
