import { render, screen } from '@testing-library/svelte';
import { describe, expect, it, vi } from 'vitest';
import PlateSymbol from '../drawings/PlateSymbol.svelte';
import { KINDS } from '../kinds';
import CautionList from './CautionList.svelte';
import HoursBar from './HoursBar.svelte';
import Rooms from './Rooms.svelte';
import UndoRedo from './UndoRedo.svelte';

const click = (element: HTMLElement) => {
  element.click();
  return Promise.resolve();
};

describe('undo and redo', () => {
  it('name what they would do, and rest when there is nothing', async () => {
    const onundo = vi.fn();
    render(UndoRedo, { undo: 'Reorder', redo: null, onundo, onredo: vi.fn() });
    await click(screen.getByRole('button', { name: 'Undo Reorder' }));
    expect(onundo).toHaveBeenCalledOnce();
    expect(screen.getByRole('button', { name: 'Redo' })).toBeDisabled();
  });
});

describe('rooms', () => {
  it('are those of the production, or of the shot', async () => {
    const { rerender } = render(Rooms, { production: 'p', here: 'hours' });
    expect(screen.getByRole('link', { name: 'Board' })).toHaveAttribute('href', '/productions/p');
    expect(screen.getByRole('link', { name: 'Hours and days' })).toHaveAttribute(
      'aria-current',
      'page',
    );
    await rerender({ production: 'p', shot: 's', here: '' });
    expect(screen.getByRole('link', { name: 'Bench' })).toHaveAttribute('aria-current', 'page');
    expect(screen.getByRole('link', { name: 'Method' })).toHaveAttribute(
      'href',
      '/productions/p/shots/s/method',
    );
  });
});

describe('an hours bar', () => {
  it('says the likely hours and keeps the range inside the bar', () => {
    const { container } = render(HoursBar, {
      label: 'set',
      value: { low: 1, likely: 2, high: 50 },
      full: 10,
      width: 100,
    });
    expect(screen.getByText('2.0 h')).toBeInTheDocument();
    expect(container.querySelector('[title]')).toHaveAttribute(
      'title',
      'set: 2.0\u00a0h (1.0\u00a0h to 50\u00a0h)',
    );
    const ends = [...container.querySelectorAll('path')].map((p) => p.getAttribute('d') ?? '');
    expect(ends.some((d) => d.includes('H98'))).toBe(true);
  });
});

describe('cautions', () => {
  const caution = {
    key: 'fire',
    name: 'Fire and flame',
    cautions: ['Follow local codes; licensed people only.'],
    plates: ['Element'],
    read_by: [{ name: 'Per', at: '2026-11-24T10:20:30Z' }],
  };
  it('say who has read them, and take another name', async () => {
    const onread = vi.fn();
    render(CautionList, { cautions: [caution], onread });
    expect(screen.getByText(/licensed people only/)).toBeInTheDocument();
    expect(screen.getByText(/Per \(2026-11-24 10:20 UTC\)/)).toBeInTheDocument();
    const button = screen.getByRole('button', { name: 'Acknowledge' });
    expect(button).toBeDisabled();
    const name = screen.getByLabelText('Who has read: Fire and flame');
    (name as HTMLInputElement).value = ' Ilse ';
    name.dispatchEvent(new Event('input', { bubbles: true }));
    await vi.waitFor(() => expect(button).toBeEnabled());
    await click(button);
    expect(onread).toHaveBeenCalledWith('fire', 'Ilse');
  });
  it('can only be read where nobody may acknowledge', () => {
    render(CautionList, { cautions: [{ ...caution, read_by: [] }] });
    expect(screen.queryByRole('button')).toBeNull();
    expect(screen.getByText('Not acknowledged by anybody yet.')).toBeInTheDocument();
  });
});

describe('plate symbols', () => {
  it('are different for every kind', () => {
    const drawn = Object.keys(KINDS).map(
      (kind) => render(PlateSymbol, { kind }).container.innerHTML,
    );
    expect(new Set(drawn).size).toBe(Object.keys(KINDS).length);
  });
});
