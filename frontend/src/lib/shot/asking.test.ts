import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { Asking, joined } from './asking';
import { NO_KIT, question, type Kit, type Plate, type Shot, type StandIn } from './plan';

type Sent = Schemas['KeptQuestion'];
const shot = { id: 's', revision: 1, number: '2', title: 'Mill' } as Shot;
const plate = { id: 'p', revision: 1, name: 'Mill', scale: 12 } as Plate;
const thing = (x_m: number) => ({ id: 't', revision: 1, name: 'Gate', x_m }) as StandIn;
const kit: Kit = NO_KIT;
const asked = (things: StandIn[], title = 'Mill') =>
  question({ ...shot, title }, [plate], things, kit, [], {
    remedies: false,
    at: 0,
    light_map: false,
    tone: false,
    drawings: true,
    others: true,
    workings: 'all',
    notation: { length: 'metric', light: 'lux', stop: 'decimal' },
  });

describe('asking about a plan in hand', () => {
  const sent: Sent[] = [];
  let known = true;
  let asking: Asking;
  beforeEach(() => {
    sent.length = 0;
    known = true;
    asking = new Asking();
    vi.stubGlobal('fetch', async (request: Request) => {
      const body = (await request.clone().json()) as Sent;
      sent.push(body);
      const there = body.plan || known;
      return new Response(
        JSON.stringify(there ? { kept: 'name', plates: [] } : { message: 'gone', fields: {} }),
        { status: there ? 200 : 412, headers: { 'Content-Type': 'application/json' } },
      );
    });
  });

  it('sends the plan once and then only what is not as it was', async () => {
    await asking.ask(asked([thing(1)]));
    await asking.ask(asked([thing(1)]));
    await asking.ask(asked([thing(2)]));
    await asking.ask(asked([thing(1)], 'Tide mill'));
    expect(sent.map((one) => Boolean(one.plan))).toEqual([true, false, false, false]);
    expect(sent[1]?.changes).toEqual({ shot: null, plates: [], stand_ins: [] });
    expect(sent[2]?.kept).toBe('name');
    expect(sent[2]?.changes?.stand_ins).toEqual([{ id: 't', name: 'Gate', x_m: 2 }]);
    expect(sent[3]?.changes?.shot).toEqual({ number: '2', title: 'Tide mill' });
  });

  it('sends it whole again when something came or went, or the server forgot it', async () => {
    await asking.ask(asked([thing(1)]));
    await asking.ask(asked([]));
    known = false;
    await asking.ask(asked([]));
    expect(sent.map((one) => Boolean(one.plan))).toEqual([true, true, false, true]);
  });
});

describe('a report laid over the last one', () => {
  const working = { formula: 'x' } as Schemas['Working'];
  const told = (id: string, verdict: string, workings: Schemas['Working'][]) =>
    ({
      plate_id: id,
      verdict,
      findings: [{ key: 'floor', verdict, workings }],
      workings: workings.length > 0 ? { axis_m: working } : {},
    }) as unknown as Schemas['PlateAnswer'];
  const report = (...plates: Schemas['PlateAnswer'][]) =>
    ({ plates, marks: [] }) as unknown as Schemas['ShotAnswer'];

  it('keeps the plates that were not asked for, and the workings', () => {
    const last = report(told('a', 'holds', [working]), told('b', 'strains', [working]));
    const now = joined(last, report(told('a', 'breaks', [])), false);
    expect(now.plates.map((p) => [p.plate_id, p.verdict])).toEqual([
      ['a', 'breaks'],
      ['b', 'strains'],
    ]);
    expect(now.plates[0]?.findings[0]).toMatchObject({ verdict: 'breaks', workings: [working] });
    expect(now.plates[0]?.workings).toEqual({ axis_m: working });
  });

  it('keeps how far arms reach in the plates that were not asked for', () => {
    const mark = (role: string, of: string) => ({ role, of, path: [] });
    const last = { ...report(), marks: [mark('reach', 'a'), mark('reach', 'b'), mark('cut', '')] };
    const found = { ...report(), marks: [mark('reach', 'a'), mark('divider', 's')] };
    const now = joined(last as never, found as never, false);
    expect(now.marks.map((m) => [m.role, m.of])).toEqual([
      ['reach', 'b'],
      ['reach', 'a'],
      ['divider', 's'],
    ]);
  });

  it('forgets plates that are gone', () => {
    const last = report(told('a', 'holds', []), told('b', 'holds', []));
    expect(joined(last, report(told('a', 'holds', [])), true).plates).toHaveLength(1);
  });
});
