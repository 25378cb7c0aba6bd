import { Dialog } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { Button, TEXT_FIELD } from './controls.tsx';

/** Asks for a name. `onName` gives the name; the dialog closes at once. */
export function NameDialog({
  title,
  label,
  start = '',
  confirm,
  open,
  onOpenChange,
  onName,
  children,
}: {
  title: string;
  label: string;
  start?: string;
  confirm: string;
  open: boolean;
  onOpenChange(open: boolean): void;
  onName(name: string): void;
  children?: ReactNode;
}) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content
          aria-describedby={undefined}
          className="-translate-x-1/2 fixed top-1/3 left-1/2 z-50 w-96 rounded-lg border border-line bg-panel p-5 shadow-xl"
        >
          <Dialog.Title className="mb-3 font-semibold">{title}</Dialog.Title>
          <NameForm
            label={label}
            start={start}
            confirm={confirm}
            onName={(name) => {
              onOpenChange(false);
              onName(name);
            }}
          >
            {children}
          </NameForm>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function NameForm({
  label,
  start,
  confirm,
  onName,
  children,
}: {
  label: string;
  start: string;
  confirm: string;
  onName(name: string): void;
  children?: ReactNode;
}) {
  const [name, setName] = useState(start);
  const trimmed = name.trim();
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (trimmed) onName(trimmed);
      }}
    >
      <label className="block text-sm">
        <span className="mb-1 block text-quiet">{label}</span>
        <input className={TEXT_FIELD} value={name} maxLength={120} onChange={(e) => setName(e.target.value)} autoFocus onFocus={(e) => e.target.select()} />
      </label>
      {children}
      <div className="mt-4 flex justify-end gap-2">
        <Dialog.Close asChild>
          <Button>Cancel</Button>
        </Dialog.Close>
        <Button type="submit" tone="strong" disabled={!trimmed}>
          {confirm}
        </Button>
      </div>
    </form>
  );
}
