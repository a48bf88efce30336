/**
 * A further view of a shot, edited as if it were a shot of its own: what the view decides is kept
 * in the shot's list of views, all else is the shot's.
 */

import type { Editing, SavedRecord } from '../edit/record.svelte';
import type { Shot } from './plan';
import { overlaid, type View } from './views';

export class ViewRecord implements Editing<Shot> {
  constructor(
    private readonly whole: SavedRecord<Shot>,
    readonly id: string,
  ) {}

  get view(): View | null {
    return this.whole.draft.views?.find((view) => view.id === this.id) ?? null;
  }
  get draft(): Shot {
    return overlaid(this.whole.draft, this.view);
  }
  get problems() {
    const { views, ...others } = this.whole.problems;
    return views === undefined ? others : { ...others, '': views };
  }

  set<K extends keyof Shot & string>(field: K, value: Shot[K]) {
    const view = this.view;
    if (!view || !(field in view)) {
      this.whole.set(field, value);
      return;
    }
    this.whole.set(
      'views',
      (this.whole.draft.views ?? []).map((one) =>
        one.id === this.id ? { ...one, [field]: value } : one,
      ),
    );
  }

  commit() {
    return this.whole.commit();
  }
}
