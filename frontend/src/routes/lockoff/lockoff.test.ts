import { fireEvent, render, screen } from '@testing-library/svelte';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import PictureMarks from '../../lib/drawings/PictureMarks.svelte';
import type { OpenShot } from '../../lib/shot/open-shot.svelte';
import { NO_KIT } from '../../lib/shot/plan';
import RigPanel from './RigPanel.svelte';
import { firstSection, TrickAnswers, type Tricks } from './tricks.svelte';

const benchOf = (shot: object, ...plates: object[]) =>
  ({
    shot: { draft: shot },
    plates: plates.map((draft) => ({ draft })),
    plate: { id: 'a' },
    plan: () => ({}),
    standIns: [],
    kit: NO_KIT,
    editable: true,
  }) as unknown as OpenShot;

describe('the room opens', () => {
  it('at what the shot is about', () => {
    expect(firstSection(benchOf({}, {}))).toBe('lock');
    expect(firstSection(benchOf({ beats: [{}] }, {}))).toBe('timing');
    expect(firstSection(benchOf({ reframe: {} }, {}))).toBe('reframe');
    expect(firstSection(benchOf({ reframe: {} }, {}, { rig: {} }))).toBe('rig');
    expect(firstSection(benchOf({}, { crowd: {} }))).toBe('crowd');
    expect(firstSection(benchOf({ splits: [{}] }, { crowd: {} }))).toBe('split');
  });
});

describe('its answers', () => {
  const answers: ((value: Response) => void)[] = [];
  const fetched = vi.fn(() => new Promise<Response>((resolve) => answers.push(resolve)));
  beforeEach(() => vi.stubGlobal('fetch', fetched));
  const settled = () => new Promise((resolve) => setTimeout(resolve, 10));

  it('follow the newest question only, and say what is missing', async () => {
    const tricks = new TrickAnswers(benchOf({}));
    for (let i = 0; i < 4; i += 1) void tricks.compute();
    await settled();
    expect(fetched).toHaveBeenCalledTimes(1);
    const headers = { 'Content-Type': 'application/json' };
    answers.shift()!(new Response(JSON.stringify({ plate_id: 'first' }), { headers }));
    await settled();
    expect(fetched).toHaveBeenCalledTimes(2);
    answers.shift()!(
      new Response(JSON.stringify({ message: 'Choose a lens first.', fields: {} }), {
        status: 422,
        headers,
      }),
    );
    await settled();
    expect(tricks.answer).toBeNull();
    expect(tricks.problem).toBe('Choose a lens first.');
  });
});

describe('marks over the picture', () => {
  it('are drawn by their role, thick ones in their true width', () => {
    const svg = document.createElementNS('http://www.w3.org/2000/svg', 'svg');
    document.body.append(svg);
    const mark = (role: string, path: [number, number][], more: object = {}) => ({
      role,
      path,
      closed: false,
      text: '',
      of: '',
      wide_px: 0,
      ...more,
    });
    render(PictureMarks, {
      target: svg,
      props: {
        k: 2,
        marks: [
          mark('divider', [[5, 0], [5, 9]], { text: 'the line' }), // prettier-ignore
          mark('rig', [[0, 0], [9, 0]], { wide_px: 84.5 }), // prettier-ignore
          mark('thrown', [[3, 4]]),
        ],
      },
    });
    expect(svg.querySelector('[data-mark=divider]')!.getAttribute('d')).toBe('M5 0L5 9');
    expect(svg.querySelector('[data-mark=rig]')!.getAttribute('stroke-width')).toBe('84.5');
    expect(svg.querySelector('[data-mark=thrown]')!.getAttribute('r')).toBe('10');
    expect(svg.textContent).toContain('the line');
  });
});

describe('rigs side by side', () => {
  const row = (kind: string, more: object) => ({
    kind,
    name: kind,
    note: 'a note',
    only: 'on the table top',
    diameter_mm: 1,
    thick_px: 2,
    blur_px: 1,
    strength: 0.5,
    frames: 12,
    worst_frame: 1,
    hides: 0,
    shadow: true,
    before: [],
    backing: '',
    hours: { low: 1, likely: 2, high: 4 },
    possible: true,
    reflected: 0,
    reflected_frames: 0,
    ...more,
  });

  it('take a line of the kit with its thickness and rating', async () => {
    const rig = { kind: 'thread', thing_id: null, diameter_mm: 0.18, rated_kg: 1.2 };
    const change = vi.fn();
    const cords = [
      { id: 't', name: 'Black thread', diameter_mm: 0.18, rated_kg: 1.2, clear: false },
      { id: 'c', name: 'Clear line', diameter_mm: 0.3, rated_kg: 6, clear: true },
    ];
    render(RigPanel, {
      bench: { ...benchOf({}), kit: { ...NO_KIT, cords }, change } as unknown as OpenShot,
      record: { id: 'a', draft: { rig }, problems: {} } as never,
      answer: null,
    });
    const chosen = screen.getByLabelText('On');
    expect(chosen).toHaveValue('t');
    await fireEvent.change(chosen, { target: { value: 'c' } });
    const line = { diameter_mm: 0.3, rated_kg: 6, colour: 'clear' };
    expect(change).toHaveBeenCalledWith(expect.anything(), 'rig', { ...rig, ...line }, 'Line');
  });

  it('say what is seen, and strike out what cannot be', () => {
    const record = { id: 'a', draft: { rig: { kind: 'rod', thing_id: null } }, problems: {} };
    const answer = {
      rigs: [
        row('rod', { before: ['Anna'], reflected_frames: 9 }),
        row('magnet', { possible: false }),
      ],
      spin: null,
    };
    render(RigPanel, {
      bench: benchOf({}),
      record: record as never,
      answer: answer as unknown as Tricks,
    });
    const [, rod, magnet] = screen.getAllByRole('row');
    expect(rod!.textContent).toContain('2.0 px');
    expect(rod!.textContent).toContain('passes before Anna');
    expect(rod!.textContent).toContain('its image in what shines is seen on 9 frames');
    expect(magnet!.textContent).not.toContain('its image');
    expect(rod!.textContent).toContain('2.0 h');
    expect(magnet!.textContent).toContain('only on the table top');
    expect(magnet!.textContent).not.toContain(' h');
    expect(screen.getByRole('radio', { name: 'rod' })).toBeChecked();
  });
});
