/** The few controls that every panel uses, in one look. */
import { clsx } from 'clsx';
import { Tooltip } from 'radix-ui';
import type { ComponentProps, ReactNode } from 'react';
import { useKeysOf } from '../state/key-map.ts';

const FACE =
  'inline-flex items-center justify-center gap-1.5 whitespace-nowrap rounded border text-sm disabled:opacity-40 disabled:pointer-events-none aria-disabled:opacity-40';

export function Button({ className, tone = 'plain', ...rest }: ComponentProps<'button'> & { tone?: 'plain' | 'strong' | 'bare' }) {
  return (
    <button
      type="button"
      className={clsx(
        FACE,
        'h-7 px-2.5',
        tone === 'strong' && 'border-ink bg-ink text-well hover:bg-white',
        tone === 'plain' && 'border-line bg-raised hover:border-edge',
        tone === 'bare' && 'border-transparent hover:bg-raised',
        className,
      )}
      {...rest}
    />
  );
}

/** A button with an icon only: its name and its key show on hover and focus. */
export function IconButton({
  label,
  keys,
  shortcut,
  about,
  pressed,
  className,
  children,
  ...rest
}: Omit<ComponentProps<'button'>, 'aria-label'> & {
  label: string;
  keys?: string;
  /** The command that it calls, whose keys are told. */
  shortcut?: string;
  /** One line on what it does. */
  about: string;
  pressed?: boolean;
  children: ReactNode;
}) {
  return (
    <Hint label={label} keys={keys} shortcut={shortcut} about={about}>
      <button
        type="button"
        aria-label={label}
        aria-pressed={pressed}
        className={clsx(
          FACE,
          'size-7 shrink-0 [&_svg]:size-4',
          pressed ? 'border-edge bg-raised text-white' : 'border-transparent text-quiet hover:bg-raised hover:text-ink',
          className,
        )}
        {...rest}
      >
        {children}
      </button>
    </Hint>
  );
}

/** The name of what it wraps, its shortcut, and a line on it. */
export function Hint({ label, keys, shortcut, about, children }: { label: string; keys?: string; shortcut?: string; about?: string; children: ReactNode }) {
  const own = useKeysOf(shortcut);
  const told = keys ?? own;
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content sideOffset={6} collisionPadding={8} className="z-50 max-w-64 rounded border border-line bg-well px-2 py-1 text-ink text-xs shadow-lg">
          {label}
          {told && <kbd className="ml-2 rounded bg-raised px-1 font-mono text-2xs">{told}</kbd>}
          {about && <span className="block text-quiet">{about}</span>}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}

export const TEXT_FIELD = 'h-7 w-full min-w-0 rounded border border-line bg-well px-2 text-sm text-ink placeholder:text-quiet hover:border-edge';
export const MENU = 'z-50 min-w-44 rounded-md border border-line bg-panel p-1 text-sm shadow-xl';
export const MENU_ITEM = 'flex items-center gap-2 rounded px-2 py-1.5 outline-none data-[highlighted]:bg-raised data-[disabled]:opacity-40 [&_svg]:size-4';

export function PanelTitle({ children, actions }: { children: ReactNode; actions?: ReactNode }) {
  return (
    <div className="flex h-9 shrink-0 items-center justify-between gap-1 border-line border-b pr-1 pl-3">
      <h2 className="truncate font-semibold text-xs tracking-wide">{children}</h2>
      <div className="flex items-center">{actions}</div>
    </div>
  );
}

export function EmptyNote({ children }: { children: ReactNode }) {
  return <p className="px-3 py-3 text-quiet text-sm leading-relaxed">{children}</p>;
}
