/** Clips that are looked at together: they play, stop and are moved through as one. */

/** Further apart than this they are put together again, seconds: about a frame. */
const APART_S = 0.05;

export class Clips {
  playing = $state(false);
  /** Where they are, and how long they are, seconds. */
  at = $state(0);
  length = $state(0);
  #videos: HTMLVideoElement[] = [];

  /** Attach to a clip while it is shown: it joins the others where they are. */
  readonly join = (video: HTMLVideoElement) => {
    this.#videos.push(video);
    const known = () => {
      if (Number.isFinite(video.duration)) this.length = video.duration;
      video.currentTime = this.at;
      if (this.playing) this.#play(video);
    };
    const goesOn = () => {
      const [first, ...others] = this.#videos;
      if (video !== first) return;
      this.at = video.currentTime;
      for (const other of others)
        if (Math.abs(other.currentTime - this.at) > APART_S) other.currentTime = this.at;
    };
    video.addEventListener('loadedmetadata', known);
    video.addEventListener('timeupdate', goesOn);
    if (video.readyState > 0) known();
    return () => {
      this.#videos = this.#videos.filter((one) => one !== video);
      video.removeEventListener('loadedmetadata', known);
      video.removeEventListener('timeupdate', goesOn);
    };
  };

  toggle() {
    this.playing = !this.playing;
    for (const video of this.#videos) {
      if (this.playing) this.#play(video);
      else video.pause();
    }
  }

  /** Stop at a moment, seconds from the beginning. */
  stand(at: number) {
    if (this.playing) this.toggle();
    this.at = at;
    for (const video of this.#videos) video.currentTime = at;
  }

  #play(video: HTMLVideoElement) {
    // A browser may refuse; what it says then is that nothing plays.
    void video.play().catch(() => (this.playing = false));
  }
}
