import { afterEach, describe, expect, it } from 'vitest';
import { History, isTyping, turnOf } from './history.svelte';

/** A key as the window sees it, pressed in an element of the page. */
function pressed(html: string, init: KeyboardEventInit): KeyboardEvent {
  document.body.innerHTML = html;
  let seen: KeyboardEvent | null = null;
  window.addEventListener('keydown', (event) => (seen = event), { once: true });
  document.body.firstElementChild!.dispatchEvent(
    new KeyboardEvent('keydown', { bubbles: true, cancelable: true, ...init }),
  );
  return seen!;
}
const Z = { key: 'z', ctrlKey: true };

afterEach(() => (document.body.innerHTML = ''));

describe('the keys of undo', () => {
  it.each([
    ['<button>Do this</button>', 'undo'],
    ['<svg tabindex="0"></svg>', 'undo'],
    // What is ticked or slid has no words to take back.
    ['<input type="checkbox">', 'undo'],
    ['<input type="range">', 'undo'],
    // A field takes back its own letters.
    ['<input>', null],
    ['<input type="date">', null],
    ['<textarea></textarea>', null],
    ['<select></select>', null],
  ])('in %s are %s', (html, turn) => {
    expect(turnOf(pressed(html, Z))).toBe(turn);
  });

  it('go back with Shift, and with the other command key', () => {
    expect(turnOf(pressed('<p></p>', { ...Z, key: 'Z', shiftKey: true }))).toBe('redo');
    expect(turnOf(pressed('<p></p>', { key: 'z', metaKey: true }))).toBe('undo');
    expect(turnOf(pressed('<p></p>', { key: 'z' }))).toBe(null);
    expect(isTyping(pressed('<input type="search">', { key: 'z' }))).toBe(true);
  });

  it('are kept from the browser only when they are ours', () => {
    const history = new History();
    let value = 2;
    history.push({ label: 'Two', undo: () => (value = 1), redo: () => (value = 2) });
    const inField = pressed('<input>', Z);
    expect(history.take(inField)).toBe(false);
    expect(inField.defaultPrevented).toBe(false);
    expect(value).toBe(2);
    const outside = pressed('<p></p>', Z);
    expect(history.take(outside)).toBe(true);
    expect(outside.defaultPrevented).toBe(true);
    expect(value).toBe(1);
    history.take(pressed('<p></p>', { ...Z, shiftKey: true }));
    expect(value).toBe(2);
  });
});

describe('the steps', () => {
  it('forget what is gone, and what was undone before something new', () => {
    const history = new History();
    const nothing = () => undefined;
    history.push({ label: 'One', undo: nothing, redo: nothing, of: 'a' });
    history.push({ label: 'Two', undo: nothing, redo: nothing, of: 'b' });
    history.undo();
    expect([history.undoLabel, history.redoLabel]).toEqual(['One', 'Two']);
    history.push({ label: 'Three', undo: nothing, redo: nothing, of: 'b' });
    expect(history.canRedo).toBe(false);
    history.forget('b');
    expect(history.undoLabel).toBe('One');
    history.undo();
    history.undo();
    expect(history.canUndo).toBe(false);
  });
});
