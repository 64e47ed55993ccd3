// Through the moves: by hand, or as fast as the program runs, times something.
'use strict';

YardPass.Player = class {
  constructor(way, shown) {
    this.way = way, this.shown = shown;
    this.speed = 20, this.playing = false;
    this.seconds = way.times[way.count];
    this.point = way.count;
  }

  /** To the end of the move that leads to a point; 0: before all of them. */
  go(point) {
    this.point = Math.max(0, Math.min(this.way.count, Math.round(point)));
    this.seconds = this.way.times[this.point];
    this.shown();
  }

  step(moves) {
    this.pause();
    this.go(this.point + moves);
  }

  /** To where the next pass, or operation, begins; or the one before. */
  leap(column, direction) {
    this.pause();
    const values = this.way[column], count = this.way.count;
    let at = this.point;
    const value = (i) => values[Math.max(0, Math.min(count - 1, i - 1))] + 1e6 * this.way.operations[Math.max(0, Math.min(count - 1, i - 1))];
    const here = value(at);
    while (at + direction >= 0 && at + direction <= count && value(at + direction) === here) at += direction;
    this.go(at + direction);
  }

  play() {
    if (this.point >= this.way.count) this.go(0);
    this.playing = true;
    this.last = performance.now();
    const beat = () => {
      if (!this.playing) return;
      const now = performance.now();
      this.seconds += this.speed * Math.min(0.25, (now - this.last) / 1000);
      this.last = now;
      this.point = this.way.point_at_time(this.seconds);
      if (this.point >= this.way.count) this.playing = false;
      this.shown();
      if (this.playing) requestAnimationFrame(beat);
    };
    requestAnimationFrame(beat);
    this.shown();
  }

  pause() {
    this.playing = false;
    this.shown();
  }

  /** Where the tip is, also within a move. */
  tip() {
    const p = this.way.points, i = this.point, times = this.way.times;
    const at = (k) => [p[3 * k], p[3 * k + 1], p[3 * k + 2]];
    if (i >= this.way.count || this.way.kinds[i] === 7) return at(i);
    const spent = times[i + 1] - times[i], share = spent > 0 ? (this.seconds - times[i]) / spent : 0;
    const a = at(i), b = at(i + 1);
    return a.map((v, k) => v + Math.max(0, Math.min(1, share)) * (b[k] - v));
  }

  /** The move that is under way, or was made last. */
  move() {
    const i = this.playing && this.point < this.way.count ? this.point : this.point - 1;
    return Math.max(0, Math.min(this.way.count - 1, i));
  }
};
