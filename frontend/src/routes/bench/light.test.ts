import { fireEvent, render, screen, within } from '@testing-library/svelte';
import { describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../../lib/api/client';
import AirTable from './AirTable.svelte';
import type { OpenShot } from '../../lib/shot/open-shot.svelte';
import LampSheet from './LampSheet.svelte';
import LightPanel from './LightPanel.svelte';

const lamp = {
  number: 0,
  name: 'Fresnel',
  role: 'key' as const,
  face_lux: 1210,
  meter_lux: 1200,
  from_deg: 40,
  elevation_deg: 12,
  distance_m: 2.7,
  size_deg: 3.1,
  penumbra_m: 0.078,
  shadow_m: 1.2,
  temperature_k: 3200,
};
const light: Schemas['StageLight'] = {
  at_m: [0, 2, 0.3],
  lamps: [
    lamp,
    { ...lamp, number: 1, name: 'Panel', role: 'fill', from_deg: -150, penumbra_m: null },
  ],
  key: 0,
  lux: 1300,
  shadow_side_lux: 300,
  ratio_stops: 2.1,
  falloff_stops: 0.4,
  key_near_m: 2,
  key_far_m: 3,
  lights_off_stops: 1.9,
  room_lux: 40,
  room_shadow_lux: 35,
};
const record = (lamps: unknown[] = []) =>
  ({ id: 'p', draft: { lamps, kind: 'screen', cue: null }, problems: {} }) as never;
const bench = (more: object = {}) =>
  ({
    editable: true,
    kit: { lamps: [{ id: 'bank', name: 'Bank', kind: 'bank' }] },
    standIns: [],
    shot: { draft: { key_from_deg: 40, key_elevation_deg: 12, key_kind: 'sun' } },
    answer: { light, stage: { lux_needed: 1150 }, study: null, findings: [] },
    report: { air: null },
    ...more,
  }) as unknown as OpenShot;

describe('the table of light', () => {
  it('puts the story under what the lamps do', () => {
    render(LightPanel, { bench: bench(), record: record(), study: null });
    const table = screen.getAllByRole('table')[0]!;
    const rows = within(table).getAllByRole('row');
    expect(rows[1]!.textContent).toContain('Fresnel');
    expect(rows[1]!.textContent).toContain('right, behind');
    expect(rows[2]!.textContent).toContain('left, in front');
    expect(rows[3]!.textContent).toContain("the story's key");
    expect(rows[3]!.textContent).toContain('0.53°');
    expect(screen.getByText(/lights-off pass keeps stop/)).toBeTruthy();
  });

  it('teaches while no lamp stands there', () => {
    const dark = bench({ answer: { light: null, stage: null, study: null, findings: [] } });
    render(LightPanel, { bench: dark, record: record(), study: null });
    expect(screen.getByText(/No lamp stands here yet/)).toBeTruthy();
  });

  it('shows what a circuit carries and what must be asked of an electrician', () => {
    const study = {
      mains: {
        watts: 4000,
        amperes: 17.4,
        over_a: 4.6,
        circuits: [{ number: 1, amperes: 17.4, limit_a: 12.8, lamps: [0, 1] }],
        cautions: ['A licensed electrician only.'],
      },
      cut_outs: [],
      smoke: null,
    } as unknown as Schemas['Study'];
    render(LightPanel, { bench: bench(), record: record(), study });
    expect(screen.getByRole('img', { name: '17.4 of 12.8 A' })).toBeTruthy();
    expect(screen.getByText(/lamps 1, 2/)).toBeTruthy();
    expect(screen.getByText('A licensed electrician only.')).toBeTruthy();
  });
});

describe('a lamp on the sheet', () => {
  const placed = { lamp_id: 'bank', x_m: 1, y_m: 2, z_m: 1, level: 1, gel: '', upright: true };
  it('is aimed at the screen where there is one', async () => {
    const change = vi.fn();
    const screenStudy = { centre_x_m: 0.5, distance_m: 6, height_m: 3 };
    const b = bench({
      change,
      answer: { light, stage: null, study: { screen: screenStudy }, findings: [] },
    });
    render(LampSheet, { bench: b, record: record([placed]) });
    await fireEvent.change(screen.getByLabelText('Lamp 1, aimed at'), {
      target: { value: 'screen' },
    });
    const [, field, lamps] = change.mock.calls[0] as [unknown, string, Schemas['LampPlace'][]];
    expect(field).toBe('lamps');
    expect(lamps[0]).toMatchObject({ aim_x_m: 0.5, aim_y_m: 6, aim_z_m: 1.5 });
    await fireEvent.change(screen.getByLabelText('Lamp 1, gel'), { target: { value: 'blue-2' } });
    expect((change.mock.calls[1] as [unknown, string, Schemas['LampPlace'][]])[2][0]!.gel).toBe(
      'blue-2',
    );
    expect(screen.getByLabelText('stands upright')).toBeTruthy();
  });
});

describe('air', () => {
  it('gives every layer its overlay and a scaled set its smoke', () => {
    const air: Schemas['Air'] = {
      visibility_m: 900,
      tint: '#cacbcc',
      veils: [
        {
          stand_in_id: 'a',
          name: 'Mill',
          plate_id: null,
          distance_m: 28,
          opacity: 0.114,
          contrast_left: 0.886,
        },
      ],
      cards: [{ before: 'Mill', behind: 'Town', distance_m: 35, opacity: 0.2 }],
    };
    const smoke: Schemas['Smoke'] = {
      visibility_m: 75,
      per_m: 0.052,
      depth_m: 2.3,
      through: 0.89,
      cautions: ['Air the room.'],
    };
    render(AirTable, { bench: bench({ report: { air } }), smoke });
    expect(screen.getByText('11 %')).toBeTruthy();
    expect(screen.getByText('#cacbcc')).toBeTruthy();
    expect(screen.getByText('Air the room.')).toBeTruthy();
    expect(screen.getByText('20 %')).toBeTruthy();
  });
});
