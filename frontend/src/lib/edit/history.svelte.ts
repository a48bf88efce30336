/** Undo and redo: each step knows its inverse. Undo is an edit like any other and is saved. */

export type Step = { label: string; undo: () => void; redo: () => void; of?: string };

/** Whether a key goes into a field. What is ticked or slid takes no letters. */
export const isTyping = (event: KeyboardEvent) =>
  event.target instanceof HTMLElement &&
  event.target.matches(
    'textarea, select, input:not([type=checkbox], [type=radio], [type=range], [type=file])',
  );

/** What Ctrl+Z (on some machines Cmd+Z) asks for outside of fields, with Shift the way back. */
export function turnOf(event: KeyboardEvent): 'undo' | 'redo' | null {
  const ours = (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z';
  if (!ours || isTyping(event)) return null;
  return event.shiftKey ? 'redo' : 'undo';
}

export class History {
  #done = $state.raw<Step[]>([]);
  #undone = $state.raw<Step[]>([]);

  get canUndo() {
    return this.#done.length > 0;
  }
  get canRedo() {
    return this.#undone.length > 0;
  }
  get undoLabel() {
    return this.#done.at(-1)?.label ?? '';
  }
  get redoLabel() {
    return this.#undone.at(-1)?.label ?? '';
  }

  push(step: Step) {
    this.#done = [...this.#done.slice(-199), step];
    this.#undone = [];
  }

  /** Drop the steps of something that is gone. */
  forget(of: string) {
    this.#done = this.#done.filter((step) => step.of !== of);
    this.#undone = this.#undone.filter((step) => step.of !== of);
  }

  /** Takes the keys of undo and redo; whether the key was theirs. */
  take(event: KeyboardEvent): boolean {
    const turn = turnOf(event);
    if (!turn) return false;
    event.preventDefault();
    this[turn]();
    return true;
  }

  undo() {
    const step = this.#done.at(-1);
    if (!step) return;
    this.#done = this.#done.slice(0, -1);
    this.#undone = [...this.#undone, step];
    step.undo();
  }

  redo() {
    const step = this.#undone.at(-1);
    if (!step) return;
    this.#undone = this.#undone.slice(0, -1);
    this.#done = [...this.#done, step];
    step.redo();
  }
}
