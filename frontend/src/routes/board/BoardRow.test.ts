import { render, screen } from '@testing-library/svelte';
import { describe, expect, it, vi } from 'vitest';
import BoardRow from './BoardRow.svelte';
import type { Row, RowVerdict } from './filter';

const { navigate } = vi.hoisted(() => ({ navigate: vi.fn() }));
vi.mock('../../router', () => ({ navigate }));

const row: Row = {
  id: 'a',
  revision: 1,
  number: '2',
  title: 'The tide mill',
  action: 'Ansa crosses',
  place: 'Mill',
  time_of_day: 'dawn',
  views: 1,
  screen_time_s: 6,
  variant_of: null,
  sketch: { id: 'k', revision: 3 },
  recipes: [
    { key: 'x', name: 'Performer in a miniature' },
    { key: 'y', name: 'Split focus' },
  ],
  plates: Array.from({ length: 9 }, (_, i) => ({
    id: `p${i}`,
    name: `Plate ${i}`,
    kind: 'live',
    required: i > 0,
    step: i % 5,
    lock_group: '',
    film_on: null,
  })),
  set_hours: { low: 1, likely: 2, high: 3 },
  post_hours: { low: 1, likely: 2, high: 3 },
  logged: 1.5,
  readiness: 0.5,
  next: 'Film: Plate 1',
  forgotten: [],
  unread_cautions: 1,
  continuity: [{ title: 'Flag', verdict: 'strains', sentence: 'Flag is in no plate.' }],
};
const verdict: RowVerdict = {
  id: 'a',
  next: 'Mend what breaks',
  verdict: 'breaks',
  title: 'Plate 1: Lens floor',
  sentence: 'Too high.',
  plates: { p1: 'breaks' },
  unasked: {},
  picture: null,
};
const shown = (
  changes: Partial<Row> = {},
  judged: RowVerdict | undefined = undefined,
  first: 'sketch' | 'developed' = 'sketch',
) =>
  render(BoardRow, {
    first,
    row: { ...row, ...changes },
    production: 'p',
    verdict: judged,
    chosen: false,
    at: true,
    editable: true,
    full: 10,
    ontoggle: vi.fn(),
    onfocus: vi.fn(),
    onhold: vi.fn(),
  });

describe('a row of the Board', () => {
  it('tells what there is before anything is judged', () => {
    const { container } = shown();
    expect(screen.getByText('Performer in a miniature + Split focus')).toBeInTheDocument();
    expect(screen.getByText('Mill · dawn · 6 s')).toBeInTheDocument();
    expect(screen.getByText('Film: Plate 1')).toBeInTheDocument();
    expect(screen.getByText('Flag is in no plate.')).toBeInTheDocument();
    expect(screen.getByText('+2')).toBeInTheDocument();
    expect(screen.getByText('50 % ready')).toBeInTheDocument();
    expect(container.querySelector('img')).toHaveAttribute(
      'src',
      '/api/productions/p/sketches/k/picture?size=thumb&r=3',
    );
  });

  it('puts what breaks first', () => {
    shown({}, verdict);
    expect(screen.getByText('Mend what breaks')).toBeInTheDocument();
    expect(screen.getByText('Plate 1: Lens floor. Too high.')).toBeInTheDocument();
    expect(screen.queryByText('Flag is in no plate.')).toBeNull();
    expect(screen.getByText('Plate 1, planned, breaks')).toBeInTheDocument();
  });

  it('never says that all holds while something was not asked', () => {
    const told = {
      ...verdict,
      verdict: 'holds',
      title: '',
      sentence: '',
      unasked: { p1: ['Room'] },
    };
    shown({}, told);
    expect(screen.getByRole('img', { name: 'holds so far' })).toBeInTheDocument();
    expect(screen.getByText('Holds so far; not asked yet: room.')).toBeInTheDocument();
    shown({}, { ...told, unasked: {} });
    expect(screen.getByRole('img', { name: 'holds' })).toBeInTheDocument();
  });

  it('leads to where a way is chosen while there is none', async () => {
    shown({ recipes: [], plates: [], next: 'Choose a way to build it' });
    screen.getByText('Choose a way to build it').click();
    expect(navigate).toHaveBeenCalledExactlyOnceWith(
      '/productions/:production/shots/:shot/method',
      {
        params: { production: 'p', shot: 'a' },
      },
    );
  });

  it('says what is missing', () => {
    shown({ sketch: null, recipes: [], plates: [], variant_of: 'b', logged: 0 });
    expect(screen.getByText('no sketch')).toBeInTheDocument();
    expect(screen.getByText('no method chosen')).toBeInTheDocument();
    expect(screen.getByText('variant')).toBeInTheDocument();
    expect(screen.queryByText(/logged/)).toBeNull();
  });

  it('shows what was developed where that is wanted, or there is no sketch', () => {
    const picture = { of: 'run' as const, id: 'd', current: true };
    const judged = { ...verdict, picture };
    const src = (container: HTMLElement) => container.querySelector('img')?.getAttribute('src');
    expect(src(shown({}, judged).container)).toContain('/sketches/k/');
    const run = '/api/productions/p/dry-runs/d/picture?which=composite';
    expect(src(shown({}, judged, 'developed').container)).toBe(run);
    expect(src(shown({ sketch: null }, judged).container)).toBe(run);
    // Where nothing was developed the sketch stays.
    expect(src(shown({}, verdict, 'developed').container)).toContain('/sketches/k/');
  });

  it('dims a picture of a plan that has moved on', () => {
    const picture = { of: 'story' as const, id: 'd', current: false };
    shown({ sketch: null }, { ...verdict, picture });
    const image = screen.getByTitle(/The story, developed; the plan has moved on/);
    expect(image).toHaveAttribute('src', '/api/productions/p/developed/d/picture');
    expect(image).toHaveClass('opacity-45');
  });
});
