import { clsx } from 'clsx';
import { MoreHorizontal, Trash2 } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';
import { MENU, MENU_ITEM } from './controls.tsx';

export interface MenuAct {
  label: string;
  icon?: ReactNode;
  act(): void;
}

/** A button with a menu of what can be done with a thing. `quiet` ones show on hover and focus only. */
export function MoreMenu({ name, quiet = false, acts }: { name: string; quiet?: boolean; acts: readonly MenuAct[] }) {
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
          {acts.map(({ label, icon, act }) => (
            <DropdownMenu.Item key={label} className={MENU_ITEM} onSelect={act}>
              {icon}
              {label}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** The menu of a thing in a list: rename, delete, and more of its own. */

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
  return <MoreMenu name={name} quiet={quiet} acts={[{ label: 'Rename …', act: onRename }, ...more, { label: 'Delete', icon: <Trash2 />, act: onDelete }]} />;
}
