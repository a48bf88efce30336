/** Paper or dim. Kept on this device; follows the system until somebody chooses. */

export type Theme = 'paper' | 'dim';
const KEY = 'jungoptic.theme';

function initial(): Theme {
  const kept = localStorage.getItem(KEY);
  if (kept === 'paper' || kept === 'dim') return kept;
  return globalThis.matchMedia?.('(prefers-color-scheme: dark)').matches ? 'dim' : 'paper';
}

let current = $state<Theme>('paper');

export const theme = {
  get current() {
    return current;
  },
  toggle() {
    current = current === 'paper' ? 'dim' : 'paper';
    localStorage.setItem(KEY, current);
    document.documentElement.dataset.theme = current;
  },
};

export function applyTheme() {
  current = initial();
  document.documentElement.dataset.theme = current;
}
