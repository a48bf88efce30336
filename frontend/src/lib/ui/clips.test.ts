import { describe, expect, it, vi } from 'vitest';
import { Clips } from './clips.svelte';

/** A clip as a page has it, without a decoder behind it. */
function clip(duration = 4) {
  const video = document.createElement('video');
  Object.defineProperty(video, 'duration', { value: duration });
  let at = 0;
  Object.defineProperty(video, 'currentTime', { get: () => at, set: (to: number) => (at = to) });
  const play = vi.spyOn(video, 'play').mockResolvedValue();
  const pause = vi.spyOn(video, 'pause').mockReturnValue();
  return { video, play, pause };
}
const known = (video: HTMLVideoElement) => video.dispatchEvent(new Event('loadedmetadata'));
const goesOn = (video: HTMLVideoElement, at: number) => {
  video.currentTime = at;
  video.dispatchEvent(new Event('timeupdate'));
};

describe('clips that are looked at together', () => {
  it('play and stop as one', () => {
    const clips = new Clips();
    const [one, two] = [clip(), clip()];
    clips.join(one.video);
    clips.join(two.video);
    clips.toggle();
    expect(one.play).toHaveBeenCalledOnce();
    expect(two.play).toHaveBeenCalledOnce();
    clips.toggle();
    expect(two.pause).toHaveBeenCalledOnce();
    expect(clips.playing).toBe(false);
  });

  it('follow the first when they drift apart', () => {
    const clips = new Clips();
    const [one, two] = [clip(), clip()];
    clips.join(one.video);
    clips.join(two.video);
    goesOn(one.video, 1);
    expect(two.video.currentTime).toBe(1);
    goesOn(two.video, 1.02);
    goesOn(one.video, 1.04);
    // As near as a frame they are left alone.
    expect(two.video.currentTime).toBe(1.02);
    expect(clips.at).toBe(1.04);
  });

  it('are joined where the others are, and left', () => {
    const clips = new Clips();
    const one = clip(6);
    const leave = clips.join(one.video);
    known(one.video);
    expect(clips.length).toBe(6);
    clips.stand(2.5);
    const two = clip(6);
    clips.join(two.video);
    known(two.video);
    expect(two.video.currentTime).toBe(2.5);
    leave();
    clips.toggle();
    expect(one.play).not.toHaveBeenCalled();
    expect(two.play).toHaveBeenCalledOnce();
  });

  it('stop where they are moved to, and where a browser refuses', async () => {
    const clips = new Clips();
    const one = clip();
    clips.join(one.video);
    clips.toggle();
    clips.stand(3);
    expect([clips.playing, one.video.currentTime]).toEqual([false, 3]);
    one.play.mockRejectedValueOnce(new Error('not allowed'));
    clips.toggle();
    await vi.waitFor(() => expect(clips.playing).toBe(false));
  });
});
