/** Sending a file: the one kind of request that the typed client does not put together. */

import { api, ask, type Schemas } from './client';

type Part = string | Blob | boolean;

/** A form with the parts in it; openapi-fetch sends it as it is. */
export function form(parts: Record<string, Part>): FormData {
  const data = new FormData();
  for (const [name, value] of Object.entries(parts)) {
    data.append(name, typeof value === 'boolean' ? String(value) : value);
  }
  return data;
}

/** A file sent as it is, as the options of a call. */
export const whole = (data: Blob) => ({
  // The description knows the bytes as text.
  body: '',
  bodySerializer: () => data,
  headers: { 'Content-Type': 'application/offset+octet-stream' },
});

type Upload =
  | '/api/productions/{production_id}/import/table/read'
  | '/api/productions/{production_id}/import/table/preview'
  | '/api/productions/{production_id}/import/table/apply'
  | '/api/productions/{production_id}/import/edit/preview'
  | '/api/productions/{production_id}/import/edit/apply';

/** Post a file with its other parts to one of the import addresses. */
export function send<T>(path: Upload, production: string, parts: Record<string, Part>): Promise<T> {
  return ask(() =>
    api.POST(path, {
      params: { path: { production_id: production } },
      // Sent as a form; the description knows its parts, not the form.
      body: {} as never,
      bodySerializer: () => form(parts),
    }),
  ) as Promise<T>;
}

/** Add a picture to a shot. */
export function sendPicture(
  production: string,
  shot: string,
  file: File,
): Promise<Schemas['SketchOut']> {
  return ask(() =>
    api.POST('/api/productions/{production_id}/shots/{shot_id}/sketches', {
      params: { path: { production_id: production, shot_id: shot } },
      body: { file: file.name, kind: 'still' },
      bodySerializer: () => form({ file, kind: 'still' }),
    }),
  );
}
