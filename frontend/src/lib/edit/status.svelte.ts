/** The one mark that says whether everything is on the server. */

let busy = $state(0);
let offline = $state(false);
let refused = $state(0);
let everSaved = $state(false);

export const status = {
  get text(): string {
    if (offline) return 'Not saved: no connection, trying again';
    if (busy > 0) return 'Saving';
    if (refused > 0) return 'Not saved: see the marked field';
    return everSaved ? 'Saved' : 'All saved';
  },
  get state(): 'saved' | 'saving' | 'trouble' {
    if (offline || refused > 0) return 'trouble';
    return busy > 0 ? 'saving' : 'saved';
  },
  /** True while closing the window would lose something. */
  get unsaved() {
    return busy > 0 || offline || refused > 0;
  },
  begin() {
    busy += 1;
  },
  end(saved: boolean) {
    busy -= 1;
    if (saved) everSaved = true;
  },
  set offline(value: boolean) {
    offline = value;
  },
  refuse(change: number) {
    refused += change;
  },
};
