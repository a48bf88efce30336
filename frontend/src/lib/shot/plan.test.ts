import { expect, it } from 'vitest';
import { bare, NEW_PLATE, NEW_STAND_IN, question, type Kit, type Plate, type Shot } from './plan';

const shot = { id: 's', revision: 3, number: '2', title: 'Mill', focal_mm: 32 } as Shot;
const plate = { id: 'p', revision: 5, name: 'Mill', kind: 'miniature', scale: 12 } as Plate;
const kit = {
  bodies: [{ id: 'b', revision: 1, name: 'B', modes: [{ id: 'm', revision: 2, name: 'M' }] }],
  lenses: [{ id: 'l', revision: 1, name: 'L' }],
  lamps: [{ id: 'x', revision: 4, name: 'Panel' }],
  rooms: [{ id: 'r', revision: 1, name: 'Garage' }],
  rigs: [{ id: 's', revision: 1, name: 'Slider' }],
  supports: [{ id: 't', revision: 2, name: 'Tripod' }],
  cloths: [{ id: 'c', revision: 1, name: 'Green cloth' }],
  cords: [{ id: 'n', revision: 1, name: 'Thread' }],
  people: [{ id: 'w', revision: 1, name: 'Ansa' }],
} as unknown as Kit;

it('asks with decisions and ids only: a revision is no decision', () => {
  const asked = question(shot, [plate], [], kit, [], {
    remedies: false,
    at: 0.5,
    selected: 'p',
    light_map: false,
    tone: false,
    drawings: true,
    others: true,
    workings: 'all',
    notation: { length: 'feet', light: 'lux', stop: 'thirds' },
  });
  expect(asked.shot).toEqual({ number: '2', title: 'Mill', focal_mm: 32 });
  expect(asked.plates).toEqual([{ id: 'p', name: 'Mill', kind: 'miniature', scale: 12 }]);
  expect(JSON.stringify(asked)).not.toContain('revision');
  expect(asked.lamps).toEqual([{ id: 'x', name: 'Panel' }]);
  expect(asked.rooms).toEqual([{ id: 'r', name: 'Garage' }]);
  expect(asked.rigs).toEqual([{ id: 's', name: 'Slider' }]);
  expect(asked.supports).toEqual([{ id: 't', name: 'Tripod' }]);
  expect(asked.people).toEqual([{ id: 'w', name: 'Ansa' }]);
  expect(asked.cords).toEqual([{ id: 'n', name: 'Thread' }]);
  expect(asked.cloths).toEqual([{ id: 'c', name: 'Green cloth' }]);
  expect(asked).toMatchObject({ remedies: false, at: 0.5, selected: 'p' });
});

it('leaves the records themselves alone', () => {
  expect(bare(plate)).not.toHaveProperty('revision');
  expect(plate.revision).toBe(5);
});

it('begins new things at sizes of ordinary ones', () => {
  expect(NEW_STAND_IN.figure.height_m).toBe(1.7);
  expect(NEW_PLATE.miniature.scale).toBe(12);
  expect(NEW_PLATE.screen.screen_gap_m).toBe(2);
});
