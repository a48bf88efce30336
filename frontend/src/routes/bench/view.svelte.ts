/** How a person looks at one shot: what is shown, how close, which tables. Kept on this device. */

import { EVERYTHING, type Span } from '../../lib/drawings/rail';
import { WHOLE, type Look } from '../../lib/drawings/zoom';

export type Tab =
  'stage' | 'picture' | 'light' | 'sun' | 'screen' | 'marks' | 'tape' | 'set' | 'planner';
export const TABS: { key: Tab; name: string }[] = [
  { key: 'stage', name: 'Stage' },
  { key: 'picture', name: 'Picture' },
  { key: 'light', name: 'Light' },
  { key: 'sun', name: 'Sun' },
  { key: 'screen', name: 'Screen' },
  { key: 'marks', name: 'Marks' },
  { key: 'tape', name: 'Worth a tape' },
  { key: 'set', name: 'Set and detail' },
  { key: 'planner', name: 'Planner' },
];

/** Tabs whose tables are worked out only while they are open. */
export const STUDIED: readonly Tab[] = ['light', 'screen', 'marks', 'tape', 'set'];

export type Layers = {
  world: boolean;
  thirds: boolean;
  whiskers: boolean;
  shadows: boolean;
  air: boolean;
  /** Faces in the tone that their lamps give them. */
  tone: boolean;
  /** Dividers, cuts, flights, crowds. */
  marks: boolean;
  /** Plates as the best reframe in post would put them. */
  fitted: boolean;
};
export const FIRST_LAYERS: Layers = {
  world: true,
  thirds: false,
  whiskers: true,
  shadows: true,
  air: true,
  tone: false,
  marks: true,
  fitted: false,
};

type Kept = {
  hidden: string[];
  layers: Layers;
  frame: Look;
  span: Span;
  stage: Look;
  room: boolean;
  map: boolean;
  tab: Tab;
};

export class BenchView {
  /** Plates that the Frame does not show. */
  hidden = $state.raw<string[]>([]);
  layers = $state.raw<Layers>(FIRST_LAYERS);
  frame = $state.raw<Look>(WHOLE);
  span = $state.raw<Span>(EVERYTHING);
  stage = $state.raw<Look>(WHOLE);
  /** Whether the Stage drawing shows the whole room. */
  room = $state(false);
  /** Whether the plan shows how the light lies over it. */
  map = $state(false);
  tab = $state<Tab>('stage');
  loupe = $state(false);
  readonly #key: string;

  constructor(shot: string) {
    this.#key = `jungoptic.bench.${shot}`;
    try {
      const kept = JSON.parse(localStorage.getItem(this.#key) ?? '{}') as Partial<Kept>;
      this.hidden = kept.hidden ?? [];
      this.layers = { ...FIRST_LAYERS, ...kept.layers };
      this.frame = kept.frame ?? WHOLE;
      this.span = kept.span ?? EVERYTHING;
      this.stage = kept.stage ?? WHOLE;
      this.room = kept.room ?? false;
      this.map = kept.map ?? false;
      this.tab = TABS.some((t) => t.key === kept.tab) ? (kept.tab as Tab) : 'stage';
    } catch {
      // What cannot be read is as good as nothing kept.
    }
  }

  /** Everything worth keeping; reading it in an effect follows every change. */
  keep() {
    const { hidden, layers, frame, span, stage, room, map, tab } = this;
    const kept: Kept = { hidden, layers, frame, span, stage, room, map, tab };
    localStorage.setItem(this.#key, JSON.stringify(kept));
  }

  /** Whether what lies under the Frame needs the room of the rail. */
  get roomy() {
    return ['planner', 'picture', 'light', 'sun', 'screen'].includes(this.tab);
  }

  toggle(layer: keyof Layers) {
    this.layers = { ...this.layers, [layer]: !this.layers[layer] };
  }

  togglePlate(id: string) {
    this.hidden = this.hidden.includes(id)
      ? this.hidden.filter((other) => other !== id)
      : [...this.hidden, id];
  }
}
