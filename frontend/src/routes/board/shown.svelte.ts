/** What stands for a shot in its row: its sketch, or what the simulated camera makes of it. Kept on
 * this device. */

export type Shown = 'sketch' | 'developed';
const KEY = 'jungoptic.board.shown';

let current = $state<Shown>(localStorage.getItem(KEY) === 'developed' ? 'developed' : 'sketch');

export const shownFirst = {
  get current() {
    return current;
  },
  toggle() {
    current = current === 'sketch' ? 'developed' : 'sketch';
    localStorage.setItem(KEY, current);
  },
};
