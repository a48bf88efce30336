import { describe, expect, it } from 'vitest';
import { Failure } from '../api/client';
import { status } from './status.svelte';
import { Turns } from './turns';

describe('turns', () => {
  it('runs one after the other, in the order asked', async () => {
    const turns = new Turns();
    const seen: string[] = [];
    let release = () => {};
    const first = turns.take(
      () =>
        new Promise<void>((resolve) => {
          release = () => {
            seen.push('first');
            resolve();
          };
        }),
      () => undefined,
    );
    const second = turns.take(
      async () => void seen.push('second'),
      () => undefined,
    );
    await Promise.resolve();
    expect(status.text).toBe('Saving');
    release();
    expect(await first).toBe(true);
    expect(await second).toBe(true);
    expect(seen).toEqual(['first', 'second']);
  });

  it('says a refusal and goes on', async () => {
    const turns = new Turns();
    const said: string[] = [];
    const refused = turns.take(
      async () => {
        throw new Failure(422, 'No room.');
      },
      (words) => said.push(words),
    );
    expect(await refused).toBe(false);
    expect(said).toEqual(['No room.']);
    expect(
      await turns.take(
        async () => undefined,
        () => undefined,
      ),
    ).toBe(true);
  });

  it('throws our own mistakes, and still goes on', async () => {
    const turns = new Turns();
    const mistake = turns.take(
      async () => {
        throw new RangeError('ours');
      },
      () => undefined,
    );
    await expect(mistake).rejects.toThrow('ours');
    expect(
      await turns.take(
        async () => undefined,
        () => undefined,
      ),
    ).toBe(true);
  });
});
