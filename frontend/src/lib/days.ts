/** Days and clocks of places, which are not this device's. */

/** A day as the address of a calendar has it, `2026-11-28`, `days` after another. */
export function dayAfter(date: string, days: number): string {
  const [year = 1970, month = 1, day = 1] = date.split('-').map(Number);
  return new Date(Date.UTC(year, month - 1, day + days)).toISOString().slice(0, 10);
}

/** `08:12` by the place's own clock. */
export function clock(seconds: number, offset: number): string {
  return new Date((seconds + offset) * 1000).toISOString().slice(11, 16);
}

/** The clock of a place at a moment: summer time comes and goes within a list of windows. */
export function clockIn(seconds: number, zone: string): string {
  return new Intl.DateTimeFormat('en-GB', {
    timeZone: zone,
    hour: '2-digit',
    minute: '2-digit',
    hour12: false,
  }).format(seconds * 1000);
}

/** `Sat 28 Nov`, by the place's calendar, as the browser's language writes it. */
export function dateIn(seconds: number, zone: string): string {
  return new Intl.DateTimeFormat(undefined, {
    timeZone: zone,
    weekday: 'short',
    day: 'numeric',
    month: 'short',
  }).format(seconds * 1000);
}

/** `Sat 28 November 2026` of a day as calendars address it, as the browser's language writes it. */
export function dayInWords(day: string): string {
  return new Date(`${day}T12:00`).toLocaleDateString(undefined, {
    weekday: 'short',
    day: 'numeric',
    month: 'long',
    year: 'numeric',
  });
}
