import { describe, expect, it } from 'vitest';
import { WriteBehind } from './write-behind.ts';

const soon = () => new Promise<void>((resolve) => setTimeout(resolve, 5));

describe('WriteBehind', () => {
  it('lets one piece of work go on while the next is prepared, and never two', async () => {
    const behind = new WriteBehind();
    const told: string[] = [];
    for (const name of ['a', 'b', 'c']) {
      await behind.add(async () => {
        told.push(`${name} begins`);
        await soon();
        told.push(`${name} ends`);
      });
      told.push(`after ${name}`);
    }
    await behind.done();
    expect(told).toEqual(['a begins', 'after a', 'a ends', 'b begins', 'after b', 'b ends', 'c begins', 'after c', 'c ends']);
  });

  it('tells what failed to who adds next, or waits', async () => {
    const behind = new WriteBehind();
    await behind.add(() => Promise.reject(new Error('The disk is full.')));
    await soon();
    await expect(behind.add(soon)).rejects.toThrow('full');
    await expect(behind.done()).rejects.toThrow('full');
  });
});
