/** What a production says for everybody who enters it: each room reads it by the same address. */

import type { Middleware } from 'openapi-fetch';
import type { Schemas } from './api/client';
import { FIRST, units } from './units.svelte';

export const entering: Middleware = {
  async onResponse({ request, response, schemaPath }) {
    const read = request.method === 'GET' && schemaPath === '/api/productions/{production_id}';
    if (!read || !response.ok) return;
    const production = (await response.clone().json()) as Schemas['ProductionOut'];
    units.usual({
      length: production.lengths_in ?? FIRST.length,
      light: production.light_in ?? FIRST.light,
      stop: production.stops_in ?? FIRST.stop,
      shutter: production.shutter_in ?? FIRST.shutter,
    });
  },
};
