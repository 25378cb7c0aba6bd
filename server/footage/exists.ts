import { access } from 'node:fs/promises';

export const exists = (file: string): Promise<boolean> =>
  access(file).then(
    () => true,
    () => false,
  );
