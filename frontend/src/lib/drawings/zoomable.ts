/** Wheel, pinch and drag on the empty paper of a drawing, as one attachment. */

import type { Attachment } from 'svelte/attachments';
import { pinch, wheelFactor } from './zoom';

type Hands = {
  /** Enlarge about a place, in parts (0..1) of the drawing's box. */
  zoom: (factor: number, at: { x: number; y: number }) => void;
  /** Move by parts of the drawing's box. */
  pan: (dx: number, dy: number) => void;
};

export function zoomable(hands: Hands): Attachment<Element> {
  return (node) => {
    const touching = new Map<number, { x: number; y: number }>();
    let spread: ReturnType<typeof pinch> | null = null;
    const place = (x: number, y: number) => {
      const box = node.getBoundingClientRect();
      return { x: (x - box.left) / (box.width || 1), y: (y - box.top) / (box.height || 1) };
    };

    function wheel(event: WheelEvent) {
      // Where the page itself scrolls, the plain wheel belongs to it.
      const page = document.documentElement;
      if (!event.ctrlKey && page.scrollHeight > page.clientHeight + 1) return;
      event.preventDefault();
      hands.zoom(wheelFactor(event.deltaY), place(event.clientX, event.clientY));
    }
    function down(event: PointerEvent) {
      // A handle takes its own pointer; the paper is what is left. (Asked by place, not by what was
      // prevented: handlers in templates run after this one.)
      if (event.button > 0 || (event.target as Element).closest('[data-grip]')) return;
      touching.set(event.pointerId, { x: event.clientX, y: event.clientY });
      spread = null;
    }
    function move(event: PointerEvent) {
      const was = touching.get(event.pointerId);
      if (!was) return;
      const now = { x: event.clientX, y: event.clientY };
      touching.set(event.pointerId, now);
      const box = node.getBoundingClientRect();
      const [a, b] = [...touching.values()];
      if (a && b) {
        const next = pinch(a, b);
        if (spread) hands.zoom(next.apart / spread.apart, place(next.x, next.y));
        spread = next;
      } else if (Math.abs(now.x - was.x) + Math.abs(now.y - was.y) > 0) {
        hands.pan((now.x - was.x) / (box.width || 1), (now.y - was.y) / (box.height || 1));
      }
    }
    function up(event: PointerEvent) {
      touching.delete(event.pointerId);
      spread = null;
    }

    const on = (name: string, handler: (event: never) => void, options?: object) =>
      node.addEventListener(name, handler as EventListener, options);
    const off = (name: string, handler: (event: never) => void) =>
      node.removeEventListener(name, handler as EventListener);
    on('wheel', wheel, { passive: false });
    on('pointerdown', down);
    on('pointermove', move);
    for (const end of ['pointerup', 'pointercancel', 'pointerleave']) on(end, up);
    return () => {
      off('wheel', wheel);
      off('pointerdown', down);
      off('pointermove', move);
      for (const end of ['pointerup', 'pointercancel', 'pointerleave']) off(end, up);
    };
  };
}
