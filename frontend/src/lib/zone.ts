/** The time zone of whoever sits here, as a place of the world calls it. */
export const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC';
