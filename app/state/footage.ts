/** Footage that can be chosen. */
import type { Made, ShownFootage } from '~/core/document/schema.ts';
import type { Showable } from '~/server/shots.ts';
import { useWorkbench } from './workbench-context.tsx';

export interface ChosenFootage {
  plateId: string;
  name: string;
  frames: number;
  width: number;
  height: number;
  alpha: boolean;
  /** Where it is not the plate. */
  made?: Made;
}

/** All that can be shown: plates of the production, this shot's first, and what is made in other shots. @param own what this shot's is called */
export function useFootage(own: string): ChosenFootage[] {
  const { plate, otherShots } = useWorkbench();
  const madeIn = ({ id: shot, subjects, finished, ...of }: Showable): ChosenFootage[] => [
    of,
    ...(finished === null ? [] : [{ ...of, name: `${of.name}, finished`, frames: finished, alpha: false, made: { shot, subject: null } }]),
    ...subjects.map(({ id, name }) => ({ ...of, name: `${of.name}: ${name}`, alpha: true, made: { shot, subject: id } })),
  ];
  return [{ plateId: plate.id, name: own, frames: plate.frames, width: plate.width, height: plate.height, alpha: false }, ...otherShots.flatMap(madeIn)];
}

/** The same as a record holds it. */
export const shownFootage = ({ plateId, frames, width, height, alpha, made }: ChosenFootage): ShownFootage => ({
  ...{ id: plateId, width, height, frames, alpha },
  ...(made ? { made } : {}),
});

/** What tells footage that is shown from other. */
export const footageKey = ({ id, made }: Pick<ShownFootage, 'id' | 'made'>): string => (made ? `${id}/${made.shot}/${made.subject ?? ''}` : id);
export const chosenKey = ({ plateId, made }: ChosenFootage): string => footageKey({ id: plateId, made });
