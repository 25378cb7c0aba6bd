/** Footage that can be chosen. */
import type { ShownFootage } from '~/core/document/schema.ts';
import { useWorkbench } from './workbench-context.tsx';

export interface ChosenFootage {
  plateId: string;
  name: string;
  frames: number;
  width: number;
  height: number;
  alpha: boolean;
}

/** The shots of the production, this one first. @param own what this one is called */
export function useFootage(own: string): ChosenFootage[] {
  const { plate, otherShots } = useWorkbench();
  return [{ plateId: plate.id, name: own, frames: plate.frames, width: plate.width, height: plate.height, alpha: false }, ...otherShots];
}

/** The same as a record holds it. */
export const shownFootage = ({ plateId, frames, width, height, alpha }: ChosenFootage): ShownFootage => ({ id: plateId, width, height, frames, alpha });
