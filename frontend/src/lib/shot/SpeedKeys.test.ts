import { fireEvent, render, screen } from '@testing-library/svelte';
import { describe, expect, it, vi } from 'vitest';
import SpeedKeys from './SpeedKeys.svelte';

const keys = [
  { frame: 49, speed: 2 },
  { frame: 25, speed: 0.5 },
];
const shown = (more: object = {}) => {
  const onchange = vi.fn();
  const of = 'of life';
  render(SpeedKeys, { keys, frame: 10, of, none: 'One speed.', editable: true, onchange, ...more });
  return onchange;
};

describe('changes of speed', () => {
  it('stand in the order of their frames, in per cent', () => {
    shown();
    const value = (name: string) =>
      screen.getAllByLabelText(name).map((box) => (box as HTMLInputElement).value);
    expect(value('from frame')).toEqual(['25', '49']);
    expect(value('at % of life')).toEqual(['50', '200']);
  });

  it('are added where the picture stands, set, moved and removed', async () => {
    const onchange = shown();
    await fireEvent.click(screen.getByRole('button', { name: 'Change speed at frame 10' }));
    expect(onchange).toHaveBeenLastCalledWith([...keys, { frame: 10, speed: 0.5 }]);
    const [speed] = screen.getAllByLabelText('at % of life');
    await fireEvent.change(speed!, { target: { value: '12.5' } });
    expect(onchange).toHaveBeenLastCalledWith([keys[0], { frame: 25, speed: 0.125 }]);
    await fireEvent.change(speed!, { target: { value: '0' } });
    expect(onchange).toHaveBeenLastCalledWith([keys[0], { frame: 25, speed: 0.01 }]);
    const [frame] = screen.getAllByLabelText('from frame');
    await fireEvent.change(frame!, { target: { value: '30' } });
    expect(onchange).toHaveBeenLastCalledWith([keys[0], { frame: 30, speed: 0.5 }]);
    await fireEvent.click(screen.getByRole('button', { name: /change at frame 49/ }));
    expect(onchange).toHaveBeenLastCalledWith([keys[1]]);
  });

  it('never stand two at one frame', async () => {
    const onchange = shown({ frame: 25 });
    const add = screen.getByRole('button', { name: 'Change speed at frame 25' });
    expect((add as HTMLButtonElement).disabled).toBe(true);
    const [frame] = screen.getAllByLabelText('from frame');
    await fireEvent.change(frame!, { target: { value: '49' } });
    expect(onchange).not.toHaveBeenCalled();
    expect((frame as HTMLInputElement).value).toBe('25');
  });
});
