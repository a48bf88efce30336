import { expect, it, vi } from 'vitest';
import { zoomable } from './zoomable';

function paper() {
  const node = document.createElement('div');
  node.getBoundingClientRect = () => ({ left: 0, top: 0, width: 200, height: 100 }) as DOMRect;
  const hands = { zoom: vi.fn(), pan: vi.fn() };
  const end = zoomable(hands)(node);
  const send = (type: string, id: number, x: number, y: number, target: Element = node) => {
    const event = new MouseEvent(type, { clientX: x, clientY: y, bubbles: true, cancelable: true });
    Object.assign(event, { pointerId: id });
    target.dispatchEvent(event);
    return event;
  };
  return { node, hands, send, end: end as () => void };
}

it('pans under one finger and zooms between two, about their middle', () => {
  const { hands, send } = paper();
  send('pointerdown', 1, 50, 50);
  send('pointermove', 1, 70, 60);
  expect(hands.pan).toHaveBeenLastCalledWith(0.1, 0.1);
  send('pointerdown', 2, 150, 60);
  send('pointermove', 2, 150, 60);
  send('pointermove', 2, 170, 60);
  const [factor, at] = hands.zoom.mock.lastCall as [number, { x: number; y: number }];
  expect(factor).toBeCloseTo(100 / 80);
  expect(at).toEqual({ x: 0.6, y: 0.6 });
  expect(hands.pan).toHaveBeenCalledTimes(1);
  send('pointerup', 2, 170, 60);
  send('pointermove', 1, 72, 60);
  expect(hands.pan).toHaveBeenCalledTimes(2);
});

it('leaves handles alone, and the page does not scroll under the wheel', () => {
  const { node, hands, send, end } = paper();
  const grip = document.createElement('span');
  grip.dataset['grip'] = 'gate';
  node.append(grip);
  send('pointerdown', 1, 50, 50, grip);
  send('pointermove', 1, 90, 50, grip);
  expect(hands.pan).not.toHaveBeenCalled();
  const wheel = new WheelEvent('wheel', {
    deltaY: -100,
    clientX: 100,
    clientY: 25,
    cancelable: true,
  });
  node.dispatchEvent(wheel);
  expect(wheel.defaultPrevented).toBe(true);
  expect(hands.zoom.mock.lastCall?.[1]).toEqual({ x: 0.5, y: 0.25 });
  end();
  node.dispatchEvent(new WheelEvent('wheel', { deltaY: -100 }));
  expect(hands.zoom).toHaveBeenCalledTimes(1);
});
