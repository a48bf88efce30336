/** One picture, and what is picked in it: marks with tapes, straight edges, or balls. */

import { api, ask, type Schemas } from '../../lib/api/client';
import { PictureDesk, type Edit } from '../pictures/desk.svelte';
import {
  asStoryCamera,
  ballMoved,
  isWhole,
  moved,
  type Ball,
  type Direction,
  type Draft,
  type Edge,
  type Mark,
  type Offered,
  type Place,
  type Upright,
} from './picked';

type Shot = Schemas['ShotOut'];
/** Shorter than this, a part of the picture, is a press and no edge. */
const SHORTEST = 0.01;
/** A ball no larger than this, its radius a part of the width, is a press and no ball. */
const SMALLEST = 0.004;
/** How tall somebody is who stands there, until it is typed. */
const TALL_M = 1.75;

export class PickedRoom {
  readonly desk: PictureDesk;
  way = $state<'marks' | 'edges' | 'balls'>('marks');
  armed = $state<'' | 'mark' | 'upright' | Direction | Ball['kind']>('');
  /** A place of the plan that is picked next. */
  armedFor = $state.raw<Offered | null>(null);
  draft = $state.raw<Draft | null>(null);
  /** The shot that it hangs on, and the one whose story's camera may follow it. */
  home = $state.raw<Shot | null>(null);
  storyOf = $state.raw<Shot | null>(null);
  shots = $state.raw<{ id: string; number: string; title: string }[]>([]);
  told = $state('');
  /** As they are while a hand moves them; null once they are saved. */
  #live = $state.raw<{
    marks?: Mark[];
    edges?: Edge[];
    uprights?: Upright[];
    balls?: Ball[];
  }>({});
  #saving: Promise<unknown> = Promise.resolve();

  constructor(
    readonly production: string,
    readonly id: string,
  ) {
    this.desk = new PictureDesk(production, { picture: id });
  }

  async load() {
    await this.desk.load();
    const picture = this.picture;
    if (picture && picture.marks.length === 0 && picture.edges.length > 0) this.way = 'edges';
    if (picture && !picture.take_id && !picture.plate_id) this.way = 'edges';
    if (picture && picture.balls.length > 0 && picture.marks.length === 0) this.way = 'balls';
    const path = { production_id: this.production };
    const all = await ask(() =>
      api.GET('/api/productions/{production_id}/shots', { params: { path } }),
    );
    this.shots = all.items;
    const shot = this.desk.whole?.of_shot;
    if (shot) await this.forShot(shot);
    this.home = this.storyOf;
  }

  get picture() {
    return this.desk.chosen;
  }
  get editable() {
    return this.desk.editable;
  }
  get busy() {
    return this.picture?.reading ?? false;
  }
  get marks(): Mark[] {
    return this.#live.marks ?? this.picture?.marks ?? [];
  }
  get edges(): Edge[] {
    return this.#live.edges ?? this.picture?.edges ?? [];
  }
  get uprights(): Upright[] {
    return this.#live.uprights ?? this.picture?.uprights ?? [];
  }
  get balls(): Ball[] {
    return this.#live.balls ?? this.picture?.balls ?? [];
  }
  /** The picture's width over its height. */
  get ratio() {
    return (this.picture?.look_width_px ?? 16) / (this.picture?.look_height_px ?? 9);
  }
  get byMarks() {
    return this.desk.whole?.by_marks ?? null;
  }
  get byEdges() {
    return this.desk.whole?.by_edges ?? null;
  }
  get byBalls() {
    return this.desk.whole?.by_balls ?? [];
  }
  get offered() {
    return this.desk.whole?.offered ?? [];
  }
  get mark() {
    return this.desk.whole?.mark ?? '';
  }

  arm(what: 'mark' | 'upright' | Direction | Ball['kind']) {
    this.armed = this.armed === what && !this.armedFor ? '' : what;
    this.armedFor = null;
  }
  armOffered(one: Offered | null) {
    this.armedFor = one;
    this.armed = one ? 'mark' : '';
  }

  /** A press on the picture: the handle that it puts there. */
  pick(at: Place): string | null {
    if (this.armed === 'mark') {
      const known = this.armedFor;
      if (known) {
        const { name, right_m, ahead_m, up_m } = known;
        this.#live = { marks: [...this.marks, { name, right_m, ahead_m, up_m, ...at }] };
      } else {
        const name = `mark ${this.marks.length + 1}`;
        this.draft = { name, right_m: null, ahead_m: null, up_m: null, ...at };
      }
      return known ? `m${this.marks.length - 1}` : 'draft';
    }
    if (this.armed === 'chrome' || this.armed === 'grey') {
      this.#live = {
        ...this.#live,
        balls: [...this.balls, { kind: this.armed, ...at, radius: SMALLEST }],
      };
      return `b${this.balls.length - 1}.2`;
    }
    const ends = { x1: at.x, y1: at.y, x2: at.x, y2: at.y };
    if (this.armed === 'upright') {
      const tall = { height_m: TALL_M, foot_x: at.x, foot_y: at.y, top_x: at.x, top_y: at.y };
      this.#live = { ...this.#live, uprights: [...this.uprights, tall] };
      return `u${this.uprights.length - 1}.2`;
    }
    if (!this.armed) return null;
    this.#live = { ...this.#live, edges: [...this.edges, { direction: this.armed, ...ends }] };
    return `e${this.edges.length - 1}.2`;
  }

  move(id: string, to: Place) {
    if (id === 'draft') {
      if (this.draft) this.draft = { ...this.draft, ...to };
    } else if (id.startsWith('m')) {
      this.change(Number(id.slice(1)), to);
    } else if (id.startsWith('b')) {
      this.#live = { ...this.#live, balls: ballMoved(this.balls, id, to, this.ratio) };
    } else {
      this.#live = { ...this.#live, ...moved(this.edges, this.uprights, id, to) };
    }
  }

  /** A handle rests. */
  rest(id: string) {
    if (id === 'draft') {
      this.armed = '';
    } else if (id.startsWith('m')) {
      const fresh = this.armedFor !== null;
      this.armed = '';
      this.armedFor = null;
      const n = Number(id.slice(1));
      void this.saveMarks(fresh ? `mark ${n + 1}` : `where mark ${n + 1} lies`);
    } else if (id.startsWith('b')) {
      const balls = this.balls.filter((one) => one.radius > SMALLEST);
      this.#live = { ...this.#live, balls };
      this.armed = '';
      void this.saveBalls('the outline of a ball');
    } else {
      this.#dropShort();
      void this.saveEdges(id.startsWith('u') ? 'something of known height' : 'an edge');
    }
  }

  #dropShort() {
    const edges = this.edges.filter((e) => Math.hypot(e.x2 - e.x1, e.y2 - e.y1) >= SHORTEST);
    const uprights = this.uprights.filter(
      (u) => Math.hypot(u.top_x - u.foot_x, u.top_y - u.foot_y) >= SHORTEST,
    );
    this.#live = { ...this.#live, edges, uprights };
  }

  /** Something of the mark that is being made. */
  tell(change: Partial<Draft>) {
    if (this.draft) this.draft = { ...this.draft, ...change };
  }
  /** Keep it, once its three tapes are told. */
  keep() {
    const draft = this.draft;
    if (!draft || !isWhole(draft) || !draft.name.trim()) return;
    this.draft = null;
    this.#live = { marks: [...this.marks, draft] };
    void this.saveMarks(`mark ${this.marks.length}`);
  }
  giveUp() {
    this.draft = null;
  }
  change(n: number, change: Partial<Mark>) {
    const marks = this.marks.map((mark, at) => (at === n ? { ...mark, ...change } : mark));
    this.#live = { ...this.#live, marks };
  }
  tall(n: number, height_m: number) {
    const uprights = this.uprights.map((one, at) => (at === n ? { ...one, height_m } : one));
    this.#live = { ...this.#live, uprights };
  }
  dropMark(n: number) {
    this.#live = { marks: this.marks.filter((_, at) => at !== n) };
    return this.saveMarks(`mark ${n + 1} gone`);
  }
  dropEdge(id: string) {
    const n = Number(id.slice(1));
    const edges = id.startsWith('e') ? this.edges.filter((_, at) => at !== n) : this.edges;
    const uprights = id.startsWith('u') ? this.uprights.filter((_, at) => at !== n) : this.uprights;
    this.#live = { ...this.#live, edges, uprights };
    return this.saveEdges('something traced, gone');
  }
  dropBall(n: number) {
    this.#live = { ...this.#live, balls: this.balls.filter((_, at) => at !== n) };
    return this.saveBalls(`ball ${n + 1} gone`);
  }
  turnBall(n: number, kind: Ball['kind']) {
    const balls = this.balls.map((ball, at) => (at === n ? { ...ball, kind } : ball));
    this.#live = { ...this.#live, balls };
    return this.saveBalls(`what ball ${n + 1} is`);
  }
  saveBalls(label: string) {
    return this.#save({ balls: this.balls }, label);
  }
  turnEdge(n: number, direction: Direction) {
    const edges = this.edges.map((edge, at) => (at === n ? { ...edge, direction } : edge));
    this.#live = { ...this.#live, edges };
    return this.saveEdges(`which way edge ${n + 1} runs`);
  }

  saveMarks(label: string) {
    const marks = this.marks;
    // A name is never empty.
    if (marks.some((mark) => !mark.name.trim())) {
      this.#live = {};
      return Promise.resolve();
    }
    return this.#save({ marks }, label);
  }
  saveEdges(label: string) {
    return this.#save({ edges: this.edges, uprights: this.uprights }, label);
  }
  /** One edit after another: each is saved against what the one before left. */
  #save(changes: Edit, label: string) {
    const picture = this.picture;
    const same = (key: string) =>
      JSON.stringify(changes[key as keyof Edit]) === JSON.stringify(picture?.[key as keyof Edit]);
    if (!picture || Object.keys(changes).every(same)) {
      this.#live = {};
      return Promise.resolve();
    }
    const kept = this.#live;
    this.#saving = this.#saving.then(async () => {
      const now = this.picture;
      if (now) await this.desk.edit(now, changes, label);
      // A hand may have moved something since.
      if (this.#live === kept) this.#live = {};
    });
    return this.#saving;
  }

  async forShot(id: string) {
    this.storyOf = await ask(() =>
      api.GET('/api/productions/{production_id}/shots/{pk}', {
        params: { path: { production_id: this.production, pk: id } },
      }),
    ).then((whole) => whole.shot as Shot);
  }

  /** The story's camera sees as this picture's did. */
  async takeForStory() {
    const shot = this.storyOf;
    const by = this.byEdges;
    if (!shot || !by) return;
    const wanted = asStoryCamera(by, shot.sensor_width_mm);
    const before = Object.fromEntries(
      Object.keys(wanted).map((key) => [key, shot[key as keyof Shot] as number]),
    );
    if (await this.#put(wanted)) {
      this.told = `The story’s camera of shot ${shot.number} sees as this picture does.`;
      this.desk.history.push({
        label: `the story’s camera of shot ${shot.number}`,
        undo: () => void this.#put(before).then((done) => done && (this.told = '')),
        redo: () => void this.#put(wanted),
      });
    }
  }
  async #put(changes: Record<string, number>): Promise<boolean> {
    const id = this.storyOf?.id;
    if (!id) return false;
    return this.desk.saving(async () => {
      await this.forShot(id);
      await ask(() =>
        api.PATCH('/api/productions/{production_id}/shots/{pk}', {
          params: { path: { production_id: this.production, pk: id } },
          body: { revision: this.storyOf!.revision, ...changes },
        }),
      );
      await this.forShot(id);
    });
  }

  dispose() {
    this.desk.dispose();
  }
}
