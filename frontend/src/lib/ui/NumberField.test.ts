import { fireEvent, render, screen } from '@testing-library/svelte';
import { expect, it, vi } from 'vitest';
import NumberField from './NumberField.svelte';
import VerdictMark from './VerdictMark.svelte';

function field(more: Record<string, unknown> = {}) {
  const onlive = vi.fn();
  const oncommit = vi.fn();
  render(NumberField, {
    label: 'Lens axis height',
    kind: 'length',
    value: 0.105,
    onlive,
    oncommit,
    ...more,
  });
  return { input: screen.getByLabelText('Lens axis height'), onlive, oncommit };
}

it('shows the value with its unit and answers while typing', async () => {
  const { input, onlive, oncommit } = field();
  expect(input).toHaveValue('105 mm');
  await fireEvent.input(input, { target: { value: '95' } });
  await vi.waitFor(() => expect(onlive).toHaveBeenLastCalledWith(0.095));
  expect(oncommit).not.toHaveBeenCalled();
  await fireEvent.blur(input);
  expect(oncommit).toHaveBeenCalledOnce();
});

it('sends nothing that is half typed, and takes back what was typed', async () => {
  vi.useFakeTimers();
  const { input, onlive, oncommit } = field();
  for (const value of ['-', '1.', "5'", "5'6", '6 1/']) {
    await fireEvent.input(input, { target: { value } });
    vi.advanceTimersByTime(2000);
    expect(onlive).not.toHaveBeenCalled();
    expect(screen.queryByRole('alert')).toBeNull();
  }
  // Quickly typed figures are one number.
  for (const value of ['1', '11', '110']) await fireEvent.input(input, { target: { value } });
  vi.advanceTimersByTime(1000);
  expect(onlive.mock.calls).toEqual([[0.11]]);
  await fireEvent.keyDown(input, { key: 'Escape' });
  // The same value as before is still there: only the drawing had followed.
  expect(oncommit).not.toHaveBeenCalled();
  expect(input).toHaveValue('105 mm');
  vi.useRealTimers();
});

it('reads what was typed at once when it is left', async () => {
  const { input, onlive, oncommit } = field();
  await fireEvent.input(input, { target: { value: '5’6”' } });
  await fireEvent.blur(input);
  expect(onlive.mock.lastCall?.[0]).toBeCloseTo(1.6764, 6);
  expect(oncommit).toHaveBeenCalledOnce();
});

it('keeps what cannot be read, names the field and the cure, and saves nothing', async () => {
  const { input, onlive, oncommit } = field();
  await fireEvent.input(input, { target: { value: 'low' } });
  await fireEvent.blur(input);
  expect(input).toHaveValue('low');
  expect(input).toHaveAttribute('aria-invalid', 'true');
  expect(screen.getByRole('alert')).toHaveTextContent('Lens axis height: “low” cannot be read.');
  expect(onlive).not.toHaveBeenCalled();
  expect(oncommit).not.toHaveBeenCalled();
});

it('steps with the arrow keys, ten at a time with Shift, as one edit', async () => {
  vi.useFakeTimers();
  const { input, onlive, oncommit } = field();
  await fireEvent.keyDown(input, { key: 'ArrowUp' });
  expect(onlive).toHaveBeenLastCalledWith(0.106);
  await fireEvent.keyDown(input, { key: 'ArrowDown', shiftKey: true });
  expect(onlive).toHaveBeenLastCalledWith(0.095);
  vi.advanceTimersByTime(400);
  expect(oncommit).toHaveBeenCalledOnce();
  vi.useRealTimers();
});

it('gives a decision back to the core when it is emptied', async () => {
  const { input, onlive } = field({ nullable: true, derived: 0.0917 });
  await fireEvent.input(input, { target: { value: '' } });
  await vi.waitFor(() => expect(onlive).toHaveBeenLastCalledWith(null));
});

it('shows the derived value while nothing is decided', () => {
  const { input } = field({ value: null, nullable: true, derived: 0.0917 });
  expect(input).toHaveValue('91.7 mm');
});

it('says what the server refused', () => {
  const { input } = field({ problem: 'must be 0 or more' });
  expect(screen.getByRole('alert')).toHaveTextContent('Lens axis height: must be 0 or more');
  expect(input).toHaveAttribute('aria-invalid', 'true');
});

it('gives each verdict a shape of its own and a name', () => {
  const paths = (['holds', 'strains', 'breaks'] as const).map((verdict) => {
    const { container } = render(VerdictMark, { verdict });
    expect(screen.getByRole('img', { name: verdict })).toBeInTheDocument();
    return container.querySelector('path')?.getAttribute('d');
  });
  expect(new Set(paths).size).toBe(3);
});
