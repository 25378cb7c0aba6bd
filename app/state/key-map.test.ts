import { describe, expect, it } from 'vitest';
import { bindOf, clashOf, keysWords, pressedKeys, wordsOf } from './key-map.ts';
import { SHORTCUT } from './shortcuts.ts';

const pressed = (key: string, more: Partial<KeyboardEvent> = {}) =>
  pressedKeys({ key, code: '', ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...more });

describe('keys of commands', () => {
  it('are as they come until they are changed, and said as people read them', () => {
    expect(bindOf({}, 'matte')).toEqual(['3']);
    expect(bindOf({ matte: ['x'] }, 'matte')).toEqual(['x']);
    expect(wordsOf({}, 'redo')).toBe('Ctrl Shift Z');
    expect(wordsOf({}, 'next')).toBe('. or Page Down');
    expect(wordsOf({ matte: [] }, 'matte')).toBe('');
    expect(['$mod+k', 'Shift+?', 'Alt+1', 'Space'].map(keysWords)).toEqual(['Ctrl K', '?', 'Alt 1', 'Space']);
  });

  it('tell what has them already, whatever the case of the letter', () => {
    expect(clashOf({}, 'matte', 'z')).toBe('brush');
    expect(clashOf({}, 'matte', 'Z')).toBe('brush');
    expect(clashOf({ brush: [] }, 'matte', 'z')).toBeNull();
    expect(clashOf({}, 'matte', '3')).toBeNull();
  });

  it('as they come clash nowhere', () => {
    for (const [id, { bind }] of Object.entries(SHORTCUT)) for (const keys of bind) expect([keys, clashOf({}, id, keys)]).toEqual([keys, null]);
  });

  it('are taken from what is pressed, with what is held', () => {
    expect(pressed('k', { ctrlKey: true })).toBe('$mod+k');
    expect(pressed('M', { shiftKey: true })).toBe('Shift+M');
    expect(pressed('A')).toBe('a');
    expect(pressed(' ', { code: 'Space', shiftKey: true })).toBe('Shift+Space');
    expect(pressed('1', { altKey: true })).toBe('Alt+1');
    expect(['Shift', 'Control', 'Alt', 'Meta'].map((k) => pressed(k))).toEqual([null, null, null, null]);
  });
});
