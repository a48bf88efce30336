/** Whether an address made here can be opened on another device. */
export function onlyHere(host: string): boolean {
  return /^(localhost|127(\.\d+){3}|\[::1\])$/.test(host);
}

/** A link whose key stands behind the `#`, which browsers send to nobody. */
export function linkTo(page: string, key: string): string {
  return `${location.origin}/${page}#${key}`;
}

/** `Sat 28 Nov, 14:05` by this device's clock. */
export function when(moment: string): string {
  return new Date(moment).toLocaleString(undefined, {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  });
}

/** Whole days from today until a day of the calendar, at least one: how long a link for it must
 * hold, the day itself and the one after with it. */
export function holdFor(day: string, now: Date): number {
  const until = Date.parse(`${day}T00:00:00Z`) + 2 * 86_400_000;
  return Math.min(90, Math.max(1, Math.ceil((until - now.getTime()) / 86_400_000)));
}
