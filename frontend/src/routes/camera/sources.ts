/** What a picture is taken with: the simulated camera that comes along, or one at this machine. */

export type Choice = { key: string; name: string };
/** What goes wrong with the simulated camera, on request. */
export type Faults = { knock: boolean; light: boolean; forgot: boolean };

export interface Source {
  /** What is seen just now; null before anything is. */
  readonly live: CanvasImageSource | null;
  readonly size: { width: number; height: number };
  start(): Promise<void>;
  stop(): void;
  /** A picture as it is kept. */
  still(): Promise<Blob>;
}

export const SIMULATED = 'simulated';
/** A knock of the simulated camera, degrees, and how much brighter its lamps flicker. */
const KNOCK_DEG = 0.08;
const BRIGHTER = 0.05;
/** How wide it is drawn while it is only looked through, and when it takes. */
const LIVE_PX = 640;
const STILL_PX = 1280;
const WIDEST_PX = 1920;
/** How good a picture of a browser's camera is kept. */
const QUALITY = 0.92;
/** How long it waits before it looks again where nothing came, milliseconds. */
const AGAIN_MS = 1000;

export class Trouble extends Error {}

/** Looks at the planned set through the server, one frame after another. */
export class Simulated implements Source {
  live: ImageBitmap | null = null;
  size = { width: LIVE_PX, height: 360 };
  #going = false;
  #seed = 1;

  constructor(
    readonly path: string,
    /** Which picture of the film comes next. */
    readonly picture: () => number,
    /** How wide the pictures of the block are; 0: it has none yet. */
    readonly wide: () => number,
    readonly faults: () => Faults,
    readonly ontrouble: (sentence: string) => void,
  ) {}

  async start() {
    this.#going = true;
    void this.#look();
  }

  async #look() {
    while (this.#going) {
      try {
        const bitmap = await createImageBitmap(await this.#fetched(LIVE_PX));
        if (!this.#going) return bitmap.close();
        this.live?.close();
        this.live = bitmap;
        this.size = { width: bitmap.width, height: bitmap.height };
        this.ontrouble('');
        // A hand at the keys comes before the next look.
        await new Promise((done) => setTimeout(done, 60));
      } catch (error) {
        if (!this.#going) return;
        this.ontrouble((error as Error).message);
        await new Promise((done) => setTimeout(done, AGAIN_MS));
      }
    }
  }

  async #fetched(width: number): Promise<Blob> {
    const faults = this.faults();
    const query = new URLSearchParams({
      picture: String(this.picture()),
      width: String(width),
      seed: String(this.#seed++),
      knock_deg: String(faults.knock ? KNOCK_DEG : 0),
      light: String(faults.light ? BRIGHTER : 0),
      forgot: String(faults.forgot),
    });
    const answer = await fetch(`${this.path}?${query.toString()}`);
    if (!answer.ok) {
      const told = (await answer.json().catch(() => ({}))) as { message?: string };
      throw new Trouble(told.message ?? 'The simulated camera does not answer.');
    }
    return answer.blob();
  }

  still(): Promise<Blob> {
    return this.#fetched(Math.min(this.wide() || STILL_PX, WIDEST_PX));
  }

  stop() {
    this.#going = false;
    this.live?.close();
    this.live = null;
  }
}

/** A camera that the browser can reach. */
export class Device implements Source {
  #video = document.createElement('video');
  #stream: MediaStream | null = null;

  constructor(
    readonly id: string,
    readonly ontrouble: (sentence: string) => void,
  ) {
    this.#video.muted = true;
    this.#video.playsInline = true;
  }

  get live() {
    return this.#video.readyState >= 2 ? this.#video : null;
  }
  get size() {
    return { width: this.#video.videoWidth || LIVE_PX, height: this.#video.videoHeight || 360 };
  }

  async start() {
    const camera = { width: { ideal: 1920 }, height: { ideal: 1080 } };
    const video = this.id ? { deviceId: { exact: this.id }, ...camera } : camera;
    try {
      this.#stream = await navigator.mediaDevices.getUserMedia({ video, audio: false });
    } catch (error) {
      throw new Trouble(refusal(error as Error));
    }
    for (const track of this.#stream.getVideoTracks()) {
      track.addEventListener('ended', () =>
        this.ontrouble(
          'The camera is gone: unplugged, or taken by another program. Every picture taken is ' +
            'safe; plug it in and choose it again.',
        ),
      );
    }
    this.#video.srcObject = this.#stream;
    await this.#video.play();
  }

  async still(): Promise<Blob> {
    if (!this.live || !this.#stream?.active) throw new Trouble('The camera shows no picture.');
    const bitmap = await createImageBitmap(this.#video);
    const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
    canvas.getContext('2d')?.drawImage(bitmap, 0, 0);
    bitmap.close();
    return canvas.convertToBlob({ type: 'image/jpeg', quality: QUALITY });
  }

  stop() {
    this.#stream?.getTracks().forEach((track) => track.stop());
    this.#stream = null;
    this.#video.srcObject = null;
  }
}

/** Why a browser gives no camera, with the cure. */
export function refusal(error: Error): string {
  switch (error.name) {
    case 'NotAllowedError':
      return 'The browser may not use a camera here: allow it beside the address, and choose it again.';
    case 'NotFoundError':
    case 'OverconstrainedError':
      return 'This camera is not there any more: plug it in, and choose it again.';
    case 'NotReadableError':
      return 'Another program holds the camera: close that, and choose it again.';
    default:
      return 'The browser reaches no camera at this address. It does so at https:// and on this machine itself.';
  }
}

/** The cameras at this machine; their names are told once one may be used. */
export async function cameras(): Promise<Choice[]> {
  const found = (await navigator.mediaDevices?.enumerateDevices?.()) ?? [];
  return found
    .filter((one) => one.kind === 'videoinput')
    .map((one, i) => ({ key: one.deviceId, name: one.label || `Camera ${i + 1}` }));
}
