/** Undo and redo: each step knows its inverse. Undo is an edit like any other and is saved. */

export type Step = { label: string; undo: () => void; redo: () => void };

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
