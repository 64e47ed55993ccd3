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
    this.geometry.setIndex(new THREE.BufferAttribute(index, 1));
    this.go(this.at === undefined ? this.count : this.at);
  }

  /** How many of the shown pieces lie before a point. */
  before(point) {
    let low = 0, high = this.list.length;
    while (low < high) {
      const middle = low + high >> 1;
      if (this.list[middle] < point) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  go(point) {
    this.at = point;
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
