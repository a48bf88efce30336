import type { Schemas } from '../../lib/api/client';

export type Role = Schemas['Role'];

/** What a role may do, as it is said to whoever gives it. */
export const ROLES: { key: Role; may: string }[] = [
  { key: 'owner', may: 'everything, people too' },
  { key: 'crew', may: 'plan and film: shots, kit, cards, takes' },
  { key: 'viewer', may: 'look, and change nothing' },
];
