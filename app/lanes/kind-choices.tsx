/** Kinds of effects or elements to choose from in a menu, each with what it does. */
import { DropdownMenu } from 'radix-ui';
import { MENU_ITEM } from '../ui/controls.tsx';

interface Kind {
  id: string;
  label: string;
  about: string;
}

export const KindChoices = ({ list, onChoose }: { list: readonly Kind[]; onChoose(kind: Kind): void }) =>
  list.map((kind) => (
    <DropdownMenu.Item key={kind.id} className={`${MENU_ITEM} flex-col !items-start !gap-0`} onSelect={() => onChoose(kind)}>
      <span>{kind.label}</span>
      <span className="max-w-64 text-quiet text-xs">{kind.about}</span>
    </DropdownMenu.Item>
  ));
