/** A dialog with a title over the page. */
import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';

export function DialogBox({
  title,
  open,
  width = 'w-96',
  onClose,
  children,
}: {
  title: string;
  open: boolean;
  width?: string;
  onClose(): void;
  children: ReactNode;
}) {
  return (
    <Dialog.Root open={open} onOpenChange={(now) => !now && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content
          aria-describedby={undefined}
          className={`-translate-x-1/2 fixed top-1/4 left-1/2 z-50 space-y-3 rounded-lg border border-line bg-panel p-5 text-sm shadow-xl ${width}`}
        >
          <Dialog.Title className="font-semibold text-base">{title}</Dialog.Title>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
