import { describe, expect, it, vi } from 'vitest';
import { Failure } from '../api/client';
import { History } from './history.svelte';
import { changed, merge } from './merge';
import { SavedRecord } from './record.svelte';
import { status } from './status.svelte';

type Plate = { id: string; revision: number; stop: number; iso: number; note: string };
const plate: Plate = { id: 'p', revision: 1, stop: 8, iso: 800, note: '' };

/** A server that keeps one record and refuses stale revisions, as the real one does. */
function server(start: Plate) {
  let now = { ...start };
  return {
    get now() {
      return now;
    },
    elsewhere(changes: Partial<Plate>) {
      now = { ...now, ...changes, revision: now.revision + 1 };
    },
    save: vi.fn(async (revision: number, changes: Partial<Plate>) => {
      if (revision !== now.revision) throw new Failure(409, 'stale', {}, { current: { ...now } });
      if (changes.stop !== undefined && changes.stop <= 0) {
        throw new Failure(422, 'no', { stop: 'must be 0.5 or more' });
      }
      now = { ...now, ...changes, revision: now.revision + 1 };
      return { ...now };
    }),
  };
}

describe('a saved record', () => {
  it('saves what is typed right after a commit that had nothing to save', async () => {
    const s = server(plate);
    const record = new SavedRecord<Plate>(plate, s.save);
    void record.commit();
    record.set('stop', 11);
    await record.commit();
    expect(s.now.stop).toBe(11);
  });

  it('sends only what changed', async () => {
    const s = server(plate);
    const record = new SavedRecord<Plate>(plate, s.save);
    record.set('stop', 11);
    await record.commit();
    expect(s.save).toHaveBeenCalledExactlyOnceWith(1, { stop: 11 });
    expect(record.stored.revision).toBe(2);
    await record.commit();
    expect(s.save).toHaveBeenCalledTimes(1);
  });

  it('gathers changes made while it saves', async () => {
    const s = server(plate);
    const record = new SavedRecord<Plate>(plate, s.save);
    record.set('stop', 11);
    const first = record.commit();
    record.set('stop', 16);
    void record.commit();
    await first;
    expect(s.now.stop).toBe(16);
    expect(record.draft.stop).toBe(16);
  });

  it('knows what was left last, before the server has it', () => {
    const s = server(plate);
    const record = new SavedRecord<Plate>(plate, s.save);
    record.set('stop', 11);
    expect(record.committed.stop).toBe(8);
    void record.commit();
    expect([record.committed.stop, record.stored.stop]).toEqual([11, 8]);
  });

  it('tells of each committed change once, and takes it back without telling', async () => {
    const s = server(plate);
    const record = new SavedRecord<Plate>(plate, s.save);
    const told = vi.fn();
    record.onchange = told;
    record.set('stop', 9);
    record.set('stop', 11);
    const first = record.commit();
    record.set('iso', 400);
    await Promise.all([first, record.commit()]);
    expect(told.mock.calls).toEqual([
      [{ stop: 8 }, { stop: 11 }],
      [{ iso: 800 }, { iso: 400 }],
    ]);
    await record.restore({ stop: 8 });
    expect([s.now.stop, s.now.iso]).toEqual([8, 400]);
    await record.commit();
    expect(told).toHaveBeenCalledTimes(2);
  });

  it('does not take what somebody else changed for its own', async () => {
    const s = server(plate);
    const record = new SavedRecord<Plate>(plate, s.save);
    const told = vi.fn();
    record.onchange = told;
    s.elsewhere({ note: 'theirs' });
    record.set('stop', 11);
    await record.commit();
    await record.commit();
    expect(record.draft.note).toBe('theirs');
    expect(told.mock.calls).toEqual([[{ stop: 8 }, { stop: 11 }]]);
  });

  it('puts different fields of two people together without asking', async () => {
    const s = server(plate);
    const record = new SavedRecord<Plate>(plate, s.save);
    s.elsewhere({ note: 'theirs' });
    record.set('stop', 11);
    await record.commit();
    expect(s.now).toMatchObject({ stop: 11, note: 'theirs' });
    expect(record.draft.note).toBe('theirs');
    expect(record.clash).toBeNull();
  });

  it('asks when both changed the same field, and loses neither value', async () => {
    const s = server(plate);
    const record = new SavedRecord<Plate>(plate, s.save);
    s.elsewhere({ stop: 5.6, iso: 400 });
    record.set('stop', 11);
    record.set('note', 'mine');
    await record.commit();
    expect(record.clash).toMatchObject({ fields: ['stop'], theirs: { stop: 5.6 } });
    expect(record.draft).toMatchObject({ stop: 11, note: 'mine', iso: 400 });
    await record.settle([]);
    expect(s.now).toMatchObject({ stop: 5.6, note: 'mine', iso: 400 });
  });

  it('keeps a refused value where it was typed and says why', async () => {
    const s = server(plate);
    const record = new SavedRecord<Plate>(plate, s.save);
    record.set('stop', -1);
    await record.commit();
    expect(record.problems['stop']).toContain('0.5 or more');
    expect(record.draft.stop).toBe(-1);
    expect(status.unsaved).toBe(true);
    await record.revert('stop');
    expect(status.unsaved).toBe(false);
  });

  it('tries again until the server is back', async () => {
    vi.useFakeTimers();
    const s = server(plate);
    let down = true;
    const record = new SavedRecord<Plate>(plate, async (revision, changes) => {
      if (down) throw new Failure(0, 'no network');
      return s.save(revision, changes);
    });
    record.set('note', 'kept');
    const saving = record.commit();
    await vi.advanceTimersByTimeAsync(2500);
    expect(status.text).toContain('no connection');
    down = false;
    await vi.advanceTimersByTimeAsync(2500);
    await saving;
    expect(s.now.note).toBe('kept');
    expect(status.state).toBe('saved');
    vi.useRealTimers();
  });
});

it('merges three ways', () => {
  const base = { a: 1, b: 1, c: 1 };
  expect(merge(base, { a: 2, b: 2, c: 3 }, { a: 1, b: 3, c: 3 })).toEqual({
    clear: { a: 2 },
    clashing: ['b'],
  });
  expect(
    changed({ id: '1', revision: 1, list: ['x'] }, { id: '1', revision: 2, list: ['x'] }),
  ).toEqual({});
});

it('undoes and redoes, and a new step forgets the undone', () => {
  const history = new History();
  const log: string[] = [];
  const step = (n: number) => ({
    label: `step ${n}`,
    undo: () => log.push(`undo ${n}`),
    redo: () => log.push(`redo ${n}`),
  });
  history.push(step(1));
  history.push(step(2));
  history.undo();
  expect(history.redoLabel).toBe('step 2');
  history.redo();
  history.undo();
  history.push(step(3));
  expect(history.canRedo).toBe(false);
  history.undo();
  history.undo();
  history.undo();
  expect(log).toEqual(['undo 2', 'redo 2', 'undo 2', 'undo 3', 'undo 1']);
});
