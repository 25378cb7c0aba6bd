/** What can be put into a lane, or onto an element: found by name, each with a picture that the program has made. */
import { Command as List } from 'cmdk';
import { Plus } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { matches } from '../ui/matches.ts';

export interface GalleryKind {
  id: string;
  label: string;
  about: string;
  /** The name of its picture, where that is not its id; null: it has none. */
  picture?: string | null;
}

export interface GalleryGroup<K extends GalleryKind> {
  title: string;
  kinds: readonly K[];
}

const HEADING =
  '[&_[cmdk-group-heading]]:px-1 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:font-semibold [&_[cmdk-group-heading]]:text-quiet [&_[cmdk-group-heading]]:text-xs';

/**
 * A button with a plus that opens the gallery.
 * @param title as one says it: "Add behind Courier"; `lane` marks the button, `button` is another one; `onOpen` hears when it is opened
 */
export function Gallery<K extends GalleryKind>(props: {
  title: string;
  lane?: string;
  button?: ReactNode;
  groups: readonly GalleryGroup<K>[];
  onOpen?(): void;
  onChoose(kind: K): void;
}) {
  const { title, lane, button, groups, onOpen, onChoose } = props;
  const [open, setOpen] = useState(false);
  const change = (next: boolean) => {
    setOpen(next);
    if (next) onOpen?.();
  };
  return (
    <Dialog.Root open={open} onOpenChange={change}>
      {button ? (
        <Dialog.Trigger asChild>{button}</Dialog.Trigger>
      ) : (
        <Dialog.Trigger
          data-add-to={lane}
          aria-label={title}
          className="flex size-7 shrink-0 items-center justify-center rounded text-quiet hover:bg-raised hover:text-ink"
        >
          <Plus className="size-4" />
        </Dialog.Trigger>
      )}
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/50" />
        <Dialog.Content
          aria-describedby={undefined}
          className="-translate-x-1/2 fixed top-[7vh] left-1/2 z-50 w-[min(46rem,94vw)] overflow-hidden rounded-lg border border-line bg-panel shadow-2xl"
        >
          <Dialog.Title className="px-4 pt-3 font-semibold text-sm">{title}</Dialog.Title>
          <List label={title} loop filter={(id, search, keywords = []) => matches(keywords.join(' '), search) || (id === search ? 1 : 0)}>
            <List.Input
              placeholder="What it is called, or what it does …"
              className="h-10 w-full border-line border-b bg-transparent px-4 text-base outline-none placeholder:text-quiet"
            />
            <List.List className="max-h-[72vh] overflow-auto p-2">
              <List.Empty className="px-3 py-4 text-quiet text-sm">Nothing is called that. Try another word.</List.Empty>
              {groups.map((group) => (
                <List.Group
                  key={group.title}
                  heading={group.title}
                  className={`${HEADING} [&_[cmdk-group-items]]:grid [&_[cmdk-group-items]]:grid-cols-2 [&_[cmdk-group-items]]:gap-1`}
                >
                  {group.kinds.map((kind) => (
                    <List.Item
                      key={kind.id}
                      value={`${group.title} ${kind.id}`}
                      keywords={[kind.label, kind.about]}
                      className="flex cursor-pointer items-center gap-3 rounded p-1 data-[selected=true]:bg-raised data-[selected=true]:text-white"
                      onSelect={() => {
                        setOpen(false);
                        onChoose(kind);
                      }}
                    >
                      {kind.picture === null ? (
                        <span className="h-[68px] w-[120px] shrink-0 rounded bg-well" />
                      ) : (
                        <img
                          src={`/kinds/${kind.picture ?? kind.id}.webp`}
                          alt=""
                          width={120}
                          height={68}
                          loading="lazy"
                          className="h-[68px] w-[120px] shrink-0 rounded bg-well object-cover"
                        />
                      )}
                      <span className="min-w-0">
                        <span className="block text-sm">{kind.label}</span>
                        <span className="line-clamp-3 text-quiet text-xs leading-snug">{kind.about}</span>
                      </span>
                    </List.Item>
                  ))}
                </List.Group>
              ))}
            </List.List>
          </List>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
