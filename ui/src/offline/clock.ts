/** The moment by the server's clock, from a device whose own clock may be wrong or be set while it runs.
 *
 *  Running time (performance.now) does not jump, so within a stretch of running the server's time is running time plus a fixed
 *  distance, learned from answers: the one with the shortest way there and back is trusted most. When the device's clock and its
 *  running time part by more than a moment, it slept or its clock was set: a new stretch begins, whose distance is a guess by the
 *  device's clock until the next answer. Taps of a stretch are set right by it afterwards, to the millisecond. */
export interface Clocks {
  wall: () => number;
  mono: () => number;
}

const parted = 1500; // ms
const trusted = 10 * 60_000; // ms after which a newer answer wins over a quicker one

export class DeviceClock {
  stretch: string;
  sure = false;
  private distance: number; // server time less running time
  private apart: number; // device time less running time, when the stretch began
  private quickest = Infinity;
  private learned = -Infinity;

  private skew = 0; // the server's clock less the device's as it was last known, ms

  constructor(
    private readonly clocks: Clocks,
    private readonly life: string,
  ) {
    this.apart = clocks.wall() - clocks.mono();
    this.distance = this.apart;
    this.stretch = `${life}:0`;
  }

  /** Takes up the lag that was known in an earlier life, until an answer tells better. */
  remember(skew: number) {
    if (this.sure) return;
    this.distance += skew - this.skew;
    this.skew = skew;
  }

  /** Looks whether the device slept or its clock was set. */
  private look() {
    const apart = this.clocks.wall() - this.clocks.mono();
    if (Math.abs(apart - this.apart) < parted) return;
    // Forward is taken for sleep, in which running time may stand still; back can only be a clock that was set.
    if (apart > this.apart) {
      this.distance += apart - this.apart;
      this.sure = false;
      this.quickest = Infinity;
      this.stretch = `${this.life}:${Number(this.stretch.slice(this.stretch.lastIndexOf(":") + 1)) + 1}`;
    }
    this.apart = apart;
  }

  now(): number {
    this.look();
    return this.clocks.mono() + this.distance;
  }

  mono(): number {
    return this.clocks.mono();
  }

  wall(): number {
    return this.clocks.wall();
  }

  /** Learns from an answer: the server's time in it, and running time before it was asked and after. */
  learn(server: number, asked: number, got: number) {
    this.look();
    const way = got - asked;
    const distance = server - (asked + got) / 2;
    // The two agree as far as their ways let one tell: the quicker is the better. If they do not, the server's clock was set.
    const agree = Math.abs(distance - this.distance) <= (way + this.quickest) / 2;
    if (this.sure && agree && way > this.quickest && got - this.learned < trusted) return;
    this.quickest = way;
    this.learned = got;
    this.distance = distance;
    this.sure = true;
    this.skew = this.now() - this.clocks.wall();
  }

  /** The server's clock less the device's, to be remembered for the next life. */
  lag() {
    return this.skew;
  }

  /** The server's time of something in this stretch, by running time. */
  at(mono: number) {
    return mono + this.distance;
  }
}

interface Timed {
  at: string;
  seq: number;
  wall: number;
  mono: number;
  stretch: string;
  sure: boolean;
}

/** Sets the times of waiting taps right, once the server's clock is known: those of this stretch exactly, those from before by the device's own clock, which may have
 *  been set since. Taps of one device never change their order, and none is later than now. */
export function setRight<T extends Timed>(taps: T[], clock: DeviceClock): T[] {
  if (!clock.sure) return taps;
  const now = clock.now();
  const lag = clock.lag();
  let last = -Infinity;
  return [...taps]
    .sort((a, b) => a.seq - b.seq)
    .map((t) => {
      let at = Date.parse(t.at);
      if (!t.sure) at = t.stretch === clock.stretch ? clock.at(t.mono) : t.wall + lag;
      at = Math.max(Math.min(at, now), last);
      last = at;
      return { ...t, at: new Date(at).toISOString(), sure: true };
    });
}
