/** The stored sheet of a plate, for every screen that works on a part of it. */

import { api, ask, type Schemas } from '../../lib/api/client';
import { SavedRecord } from '../../lib/edit/record.svelte';

export type Sheet = Schemas['SheetOut'];

export async function openSheet(production: string, plate: string): Promise<SavedRecord<Sheet>> {
  const params = { path: { production_id: production, pk: plate } };
  const stored = await ask(() =>
    api.GET('/api/productions/{production_id}/plates/{pk}/sheet', { params }),
  );
  return new SavedRecord<Sheet>(stored, (revision, changes) =>
    ask(() =>
      api.PATCH('/api/productions/{production_id}/plates/{pk}/sheet', {
        params,
        body: { revision, ...changes },
      }),
    ),
  );
}
