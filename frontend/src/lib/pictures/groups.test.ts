import { describe, expect, it } from 'vitest';
import { bare, bytes, grouped, leftOut, oneByOne } from './groups';

const file = (name: string, folder = '', size = 10) => {
  const made = new File([new Uint8Array(size)], name);
  if (folder) Object.defineProperty(made, 'webkitRelativePath', { value: `${folder}/${name}` });
  return made;
};
const names = (files: File[]) => grouped(files).map((g) => g.files.map((f) => f.name));

describe('what was dropped', () => {
  it('makes a sequence of numbered stills, in the order of their numbers', () => {
    const dropped = [12, 9, 10, 8, 11].map((n) => file(`DUSK_${n}.JPG`));
    expect(names(dropped)).toEqual([
      ['DUSK_8.JPG', 'DUSK_9.JPG', 'DUSK_10.JPG', 'DUSK_11.JPG', 'DUSK_12.JPG'],
    ]);
    expect(grouped(dropped)[0]?.name).toBe('DUSK_8 and on (5 pictures)');
  });

  it('takes stills apart again where each counts by itself', () => {
    const together = grouped([1, 2, 3, 4, 5].map((n) => file(`BOARD_${n}.JPG`)));
    expect(oneByOne(together).map((one) => [one.name, one.files.length])).toEqual(
      [1, 2, 3, 4, 5].map((n) => [`BOARD_${n}`, 1]),
    );
  });

  it('calls a sequence after its folder, and keeps folders apart', () => {
    const two = ['dawn', 'dusk'].flatMap((folder) =>
      [1, 2, 3, 4, 5].map((n) => file(`P${n}.png`, folder)),
    );
    expect(grouped(two).map((g) => g.name)).toEqual(['dawn (5 pictures)', 'dusk (5 pictures)']);
  });

  it('leaves a few stills, and every clip, by themselves', () => {
    const some = [file('A001.mov'), file('A002.mov'), file('IMG_1.jpg'), file('IMG_2.jpg')];
    expect(names(some)).toEqual([['A001.mov'], ['A002.mov'], ['IMG_1.jpg'], ['IMG_2.jpg']]);
    const clips = [1, 2, 3, 4, 5, 6].map((n) => file(`C${n}.mp4`));
    expect(grouped(clips)).toHaveLength(6);
  });

  it('passes over what computers lay beside pictures, and what is empty', () => {
    expect(names([file('.DS_Store'), file('Thumbs.db'), file('a.mov', '', 0)])).toEqual([]);
  });

  it('says which files it left out because nothing is in them', () => {
    const empty = (name: string) => file(name, '', 0);
    expect(leftOut([file('a.mov'), empty('.DS_Store')])).toBe('');
    expect(leftOut([file('a.mov'), empty('b.mov')])).toMatch(/^b\.mov is empty, 0 bytes/);
    const four = ['b', 'c', 'd', 'e'].map((name) => empty(`${name}.mov`));
    expect(leftOut(four)).toMatch(/^4 files are empty.*\(b\.mov, c\.mov, d\.mov and more\)\.$/);
  });

  it('names a picture without its ending, as long as a name may be', () => {
    expect(bare('A001.C003.mov')).toBe('A001.C003');
    expect(bare('.mov')).toBe('.mov');
    expect(bare('x'.repeat(300))).toHaveLength(120);
  });

  it('says how large something is', () => {
    expect([1, 9_600, 1_499_999, 2.44e9].map(bytes)).toEqual(['1 kB', '10 kB', '1 MB', '2.4 GB']);
  });
});
