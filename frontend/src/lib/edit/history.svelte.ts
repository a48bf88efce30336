/** Undo and redo: each step knows its inverse. Undo is an edit like any other and is saved. */

export type Step = { label: string; undo: () => void; redo: () => void; of?: string };

/** Whether a key goes into a field. */
export const isTyping = (event: KeyboardEvent) =>
  event.target instanceof HTMLElement && /INPUT|TEXTAREA|SELECT/.test(event.target.tagName);

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

  /** Takes Ctrl+Z, and with Shift the way back, outside of fields; whether the key was theirs. */
  take(event: KeyboardEvent): boolean {
    const ours = (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z';
    if (!ours || isTyping(event)) return false;
    event.preventDefault();
    if (event.shiftKey) this.redo();
    else this.undo();
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
