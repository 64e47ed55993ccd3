// The way of the tip, by operation and kind of move.
'use strict';

YardPass.Way = class {
  constructor() {
    const data = YardPass.data, about = data.about, count = this.count = about.moves.points;
    const columns = ['x', 'y', 'z'].map((axis) => data.steps('way-' + axis));
    this.points = new Float32Array(3 * (count + 1));
    for (let k = 0; k < 3; k++) {
      this.points[k] = about.moves.start[k];
      for (let i = 0; i < count; i++) this.points[3 * (i + 1) + k] = columns[k][i] * about.step;
    }
    this.kinds = data.runs('way-kinds', count, Uint8Array);
    this.lines = Int32Array.from(data.steps('way-lines'));
    this.passes = Int32Array.from(data.steps('way-passes'));
    this.operations = data.runs('way-operations', count, Int16Array);
    this.feeds = data.runs('way-feeds', count, Float32Array);
    const spent = data.numbers('way-milliseconds');
    this.times = new Float64Array(count + 1);
    for (let i = 0; i < count; i++) this.times[i + 1] = this.times[i] + spent[i] / 1000;
    this.shown = {kinds: new Set([0, 1, 2, 3, 4, 5, 6]), operations: new Set(about.operations.keys())};
    this.only = null;   // [first, last] pass
    this.trail = true;  // only what lies just behind the tool
    this.build();
  }

  static get colours() {
    return [0xc2543f, 0xb5347a, 0xb5347a, 0x1f4e8c, 0x2a8f6a, 0xe08a1e, 0x1f4e8c, 0];
  }

  build() {
    const count = this.count, positions = new Float32Array(6 * count), colours = new Uint8Array(6 * count);
    for (let i = 0; i < count; i++) {
      positions.set(this.points.subarray(3 * i, 3 * i + 6), 6 * i);
      const rgb = YardPass.Way.colours[this.kinds[i]];
      for (let k = 6 * i; k < 6 * i + 6; k += 3)
        colours[k] = rgb >> 16, colours[k + 1] = rgb >> 8 & 255, colours[k + 2] = rgb & 255;
    }
    const geometry = this.geometry = new THREE.BufferGeometry();
    geometry.setAttribute('position', new THREE.BufferAttribute(positions, 3));
    geometry.setAttribute('color', new THREE.BufferAttribute(colours, 3, true));
    this.object = new THREE.LineSegments(geometry, new THREE.LineBasicMaterial({vertexColors: THREE.VertexColors}));
    this.dots = new THREE.Points(geometry, new THREE.PointsMaterial(
        {vertexColors: THREE.VertexColors, size: 4, sizeAttenuation: false}));
    this.object.frustumCulled = this.dots.frustumCulled = false;
    this.dots.visible = false;
    this.choose();
  }

  is_shown(i) {
    if (!this.shown.kinds.has(this.kinds[i]) || !this.shown.operations.has(this.operations[i])) return false;
    return !this.only || (this.passes[i] >= this.only[0] && this.passes[i] <= this.only[1]);
  }

  /** After another choice of what is shown. */
  choose() {
    const list = [];
    for (let i = 0; i < this.count; i++)
      if (this.is_shown(i)) list.push(i);
    this.list = Uint32Array.from(list);
    const index = new Uint32Array(2 * list.length);
    list.forEach((i, k) => { index[2 * k] = 2 * i, index[2 * k + 1] = 2 * i + 1; });
    this.index = new THREE.BufferAttribute(index, 1);
    this.few = null;
    this.with_few = false;
    this.geometry.setIndex(this.index);
    this.go(this.at === undefined ? this.count : this.at);
  }

  /** Pieces of one pass that follow each other, some of them joined into one. */
  joined() {
    const most = Math.ceil(this.list.length / 1e5), ends = [], index = [];
    for (let k = 0; k < this.list.length;) {
      const first = this.list[k];
      let last = first;
      for (let n = 1; n < most && this.list[k + n] === first + n && this.kinds[first + n] === this.kinds[first] &&
           this.passes[first + n] === this.passes[first]; n++) last = first + n;
      index.push(2 * first, 2 * last + 1), ends.push(last);
      k += last - first + 1;
    }
    return {list: Uint32Array.from(ends), index: new THREE.BufferAttribute(Uint32Array.from(index), 1)};
  }

  /** While the view moves on a slow machine: long ways in fewer pieces. */
  use_few(on) {
    on = on && !this.trail && this.list.length > 1.5e5;
    if (on === this.with_few) return;
    if (on && !this.few) this.few = this.joined();
    this.with_few = on;
    this.geometry.setIndex(on ? this.few.index : this.index);
    this.go(this.at);
  }

  /** How many of the shown pieces lie before a point. */
  before(point) {
    const list = this.with_few ? this.few.list : this.list;
    let low = 0, high = list.length;
    while (low < high) {
      const middle = low + high >> 1;
      if (list[middle] < point) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  go(point) {
    this.at = point;
    if (this.trail && this.with_few) this.use_few(false);
    const last = this.before(point), first = this.trail ? Math.max(0, last - 400) : 0;
    this.range = [first, last];
    this.geometry.setDrawRange(2 * first, 2 * (last - first));
  }

  /** The point at which a line of the program ends. */
  point_of_line(line) {
    let low = 0, high = this.count;
    while (low < high) {
      const middle = low + high >> 1;
      if (this.lines[middle] <= line) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  point_at_time(seconds) {
    let low = 0, high = this.count;
    while (low < high) {
      const middle = low + high >> 1;
      if (this.times[middle + 1] <= seconds) low = middle + 1;
      else high = middle;
    }
    return low;
  }
};
