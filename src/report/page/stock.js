// The stock up to any move: states are kept after some moves, and between them the cutter carves here, with
// its outline in straight pieces, on the page's own cells.
'use strict';

YardPass.Stock = class {
  constructor(way) {
    const data = YardPass.data;
    this.about = data.about.stock, this.way = way;
    const {columns, rows} = this.about, cells = columns * rows;
    this.cells = cells;
    this.states = [{after: 0, heights: this.changed(new Float64Array(cells).fill(
        Math.round(this.about.high[2] / data.about.step)), 'stock-first')}];
    for (const state of this.about.states)
      this.states.push({
        after: state.after,
        heights: this.changed(this.states[this.states.length - 1].heights.slice(), state.key)
      });
    const low = -Math.pow(2, 31), in_mm = (v) => v === low ? NaN : v * data.about.step;
    this.part = Float32Array.from(data.steps('stock-part'), in_mm);
    const left = data.steps('stock-left');
    this.left = left && Float32Array.from(left, in_mm);
    this.now = new Float32Array(cells);
    this.at = -1;
    this.tables = data.about.tools.map((tool) => this.table_of(tool.bodies[0].outline.slice(0, -2)));
    this.cosine = this.cosines();
    this.build();
    this.go(way.count);
  }

  changed(heights, name) {
    const pairs = YardPass.data.numbers(name);
    for (let k = 0, i = 0; k + 1 < pairs.length; k += 2, i++) {
      i += pairs[k];
      heights[i] -= pairs[k + 1];
    }
    return heights;
  }

  /** Heights of a cutter over its tip, the closer together the nearer to its side. */
  table_of(outline) {
    const count = 128, radius = outline[outline.length - 1][0], heights = new Float32Array(count + 2);
    for (let k = 0, piece = 1; k <= count; k++) {
      const r = radius * (1 - Math.pow(1 - k / count, 2));
      while (piece + 1 < outline.length && outline[piece][0] < r) piece++;
      const a = outline[piece - 1], b = outline[piece], wide = b[0] - a[0];
      heights[k] = wide > 0 ? a[1] + (b[1] - a[1]) * Math.min(1, Math.max(0, (r - a[0]) / wide)) : a[1];
    }
    heights[count + 1] = heights[count];
    return {radius, heights, count};
  }

  /** How level the part is below each cell: what is left is told square to it, not straight up. */
  cosines() {
    const {columns, rows, cell} = this.about, part = this.part, result = new Float32Array(this.cells).fill(1);
    for (let j = 0; j < rows; j++)
      for (let i = 0; i < columns; i++) {
        const slope = (d, ok) => {
          const here = j * columns + i, a = ok[0] ? part[here - d] : NaN, b = ok[1] ? part[here + d] : NaN;
          const before = (part[here] - a) / cell, behind = (b - part[here]) / cell;
          if (isNaN(before)) return isNaN(behind) ? 0 : behind;
          return isNaN(behind) ? before : Math.abs(before) < Math.abs(behind) ? before : behind;
        };
        const x = slope(1, [i > 0, i + 1 < columns]), y = slope(columns, [j > 0, j + 1 < rows]);
        result[j * columns + i] = 1 / Math.sqrt(1 + x * x + y * y);
      }
    return result;
  }

  /** As it is after so many points of the way. */
  go(point) {
    if (point === this.at) return;
    let best = 0;
    while (best + 1 < this.states.length && this.states[best + 1].after <= point) best++;
    const state = this.states[best];
    if (!(this.at >= state.after && this.at <= point)) {
      const step = YardPass.data.about.step;
      for (let i = 0; i < this.cells; i++) this.now[i] = state.heights[i] * step;
      this.at = state.after;
    }
    for (let k = this.at + 1; k <= point; k++) this.carve(k);
    this.at = point;
    this.update();
  }

  /** The move that ends at a point of the way: each cell down to the lowest that the cutter comes over it. */
  carve(k) {
    const way = this.way, kind = way.kinds[k - 1], operation = YardPass.data.about.operations[way.operations[k - 1]];
    if (!operation || operation.tool < 0 || kind === 0 || kind === 7) return;
    const {columns, rows, cell, low} = this.about, {radius, heights, count} = this.tables[operation.tool];
    const now = this.now, p = way.points, a = 3 * (k - 1), b = 3 * k, x0 = p[a], y0 = p[a + 1], z0 = p[a + 2];
    const dx = p[b] - x0, dy = p[b + 1] - y0, dz = p[b + 2] - z0, run = Math.hypot(dx, dy);
    const first = (v, o) => Math.max(0, Math.ceil((v - radius - o) / cell - 0.5));
    const last = (v, o, n) => Math.min(n - 1, Math.floor((v + radius - o) / cell - 0.5));
    const i0 = first(Math.min(x0, p[b]), low[0]), i1 = last(Math.max(x0, p[b]), low[0], columns);
    const j0 = first(Math.min(y0, p[b + 1]), low[1]), j1 = last(Math.max(y0, p[b + 1]), low[1], rows);
    const lowest = z0 + Math.min(0, dz), ux = run > 0 ? dx / run : 0, uy = run > 0 ? dy / run : 0;
    const rise = run > 0 ? dz / run : 0, golden = 0.381966;
    const over = (r) => {
      const at = count * (1 - Math.sqrt(Math.max(0, 1 - r / radius))), n = Math.floor(at);
      return heights[n] + (at - n) * (heights[n + 1] - heights[n]);
    };
    for (let j = j0; j <= j1; j++) {
      const y = low[1] + (j + 0.5) * cell - y0;
      for (let i = i0; i <= i1; i++) {
        const here = j * columns + i;
        if (now[here] <= lowest) continue;
        const x = low[0] + (i + 0.5) * cell - x0, along = x * ux + y * uy;
        const aside = run > 0 ? Math.abs(x * uy - y * ux) : Math.hypot(x, y);
        if (aside > radius) continue;
        // Where along the move the cutter reaches over the cell at all.
        const half = Math.sqrt(radius * radius - aside * aside);
        let from = Math.max(0, along - half), to = Math.min(run, along + half);
        if (from > to) continue;
        const height = (s) => z0 + s * rise + over(Math.min(radius, Math.hypot(aside, along - s)));
        let best;
        if (run === 0) {
          best = lowest + over(aside);
        } else if (rise === 0) {
          best = height(Math.min(to, Math.max(from, along)));
        } else {
          // Convex along the move: one least place.
          let s = from + golden * (to - from), t = to - golden * (to - from), hs = height(s), ht = height(t);
          for (let n = 0; n < 14; n++) {
            if (hs < ht) to = t, t = s, ht = hs, s = from + golden * (to - from), hs = height(s);
            else from = s, s = t, hs = ht, t = to - golden * (to - from), ht = height(t);
          }
          best = Math.min(hs, ht);
        }
        if (best < now[here]) now[here] = Math.max(low[2], best);
      }
    }
  }

  build() {
    const {columns, rows, cell, low, high} = this.about;
    const rim = 2 * (columns + rows) - 4, count = this.cells + 2 * rim;
    this.positions = new Float32Array(3 * count), this.colours = new Uint8Array(3 * count);
    const p = this.positions;
    const along = (k, n, from, to) => k === 0 ? from : k === n - 1 ? to : from + (k + 0.5) * cell;
    for (let j = 0; j < rows; j++)
      for (let i = 0; i < columns; i++) {
        p[3 * (j * columns + i)] = along(i, columns, low[0], high[0]);
        p[3 * (j * columns + i) + 1] = along(j, rows, low[1], high[1]);
      }
    // The rim once more at the top and at the bottom, counter-clockwise, for the sides.
    this.rim = [];
    for (let i = 0; i < columns; i++) this.rim.push(i);
    for (let j = 1; j < rows; j++) this.rim.push(j * columns + columns - 1);
    for (let i = columns - 2; i >= 0; i--) this.rim.push((rows - 1) * columns + i);
    for (let j = rows - 2; j > 0; j--) this.rim.push(j * columns);
    this.rim.forEach((cell_of, k) => {
      for (const at of [this.cells + k, this.cells + rim + k])
        p[3 * at] = p[3 * cell_of], p[3 * at + 1] = p[3 * cell_of + 1], p[3 * at + 2] = low[2];
      const i = cell_of % columns, j = Math.floor(cell_of / columns);
      const x = i === 0 ? -1 : i === columns - 1 ? 1 : 0, y = x ? 0 : j === 0 ? -1 : 1;
      for (const at of [this.cells + k, this.cells + rim + k])
        this.colours.fill(200 * YardPass.solids.light(x, y, 0), 3 * at, 3 * at + 3);
    });
    const index = [];
    for (let j = 0; j + 1 < rows; j++)
      for (let i = 0; i + 1 < columns; i++) {
        const a = j * columns + i, b = a + 1, c = a + columns, d = c + 1;
        index.push(a, b, d, a, d, c);
      }
    for (let k = 0; k < rim; k++) {
      const a = this.cells + k, b = this.cells + (k + 1) % rim;
      index.push(a + rim, b + rim, b, a + rim, b, a);
    }
    for (let k = 1; k + 1 < rim; k++)
      index.push(this.cells + rim, this.cells + rim + k + 1, this.cells + rim + k);
    const geometry = this.geometry = new THREE.BufferGeometry();
    geometry.setAttribute('position', new THREE.BufferAttribute(this.positions, 3));
    geometry.setAttribute('color', new THREE.BufferAttribute(this.colours, 3, true));
    geometry.setIndex(new THREE.BufferAttribute(Uint32Array.from(index), 1));
    // While the view turns on a slow machine, every third cell will do.
    const few = [], some_columns = [], some_rows = [];
    for (let i = 0; i < columns; i += 3) some_columns.push(i);
    for (let j = 0; j < rows; j += 3) some_rows.push(j);
    if ((columns - 1) % 3) some_columns.push(columns - 1);
    if ((rows - 1) % 3) some_rows.push(rows - 1);
    for (let n = 0; n + 1 < some_rows.length; n++)
      for (let m = 0; m + 1 < some_columns.length; m++) {
        const a = some_rows[n] * columns + some_columns[m], b = some_rows[n] * columns + some_columns[m + 1];
        const c = some_rows[n + 1] * columns + some_columns[m], d = some_rows[n + 1] * columns + some_columns[m + 1];
        few.push(a, b, d, a, d, c);
      }
    for (let k = index.length - 3 * (3 * rim - 2); k < index.length; k++) few.push(index[k]);
    this.coarse = new THREE.BufferGeometry();
    for (const name of ['position', 'color']) this.coarse.setAttribute(name, geometry.attributes[name]);
    this.coarse.setIndex(new THREE.BufferAttribute(Uint32Array.from(few), 1));
    this.object = YardPass.solids.solid(geometry, 0xffffff, {vertexColors: THREE.VertexColors});
  }

  /** What is left over the part at a cell; at the end as the simulation measured it. */
  left_at(cell) {
    if (this.left && this.at === this.way.count) return this.left[cell];
    return (this.now[cell] - this.part[cell]) * this.cosine[cell];
  }

  colour(left) {
    const about = YardPass.data.about;
    if (isNaN(left)) return about.left_colours.no_part;
    if (left < -0.01 || (left < -0.001 && this.at === this.way.count))
      return about.left_colours.below;
    for (const [limit, rgb] of about.left_colours.steps)
      if (left <= limit) return rgb;
    return about.left_colours.no_part;
  }

  update() {
    const p = this.positions, c = this.colours, rim = this.rim.length, now = this.now;
    const {columns, cell} = this.about;
    for (let i = 0; i < this.cells; i++) {
      const x = i % columns, above = i + columns < this.cells ? now[i + columns] : now[i];
      const dx = (x > 0 ? now[i - 1] : now[i]) - (x + 1 < columns ? now[i + 1] : now[i]);
      const dy = (i >= columns ? now[i - columns] : now[i]) - above;
      const scale = 1 / Math.sqrt(dx * dx + dy * dy + 4 * cell * cell);
      const light = YardPass.solids.light(dx * scale, dy * scale, 2 * cell * scale);
      p[3 * i + 2] = this.now[i];
      const rgb = this.colour(this.left_at(i));
      c[3 * i] = Math.min(255, light * (rgb >> 16)), c[3 * i + 1] = Math.min(255, light * (rgb >> 8 & 255));
      c[3 * i + 2] = Math.min(255, light * (rgb & 255));
    }
    for (let k = 0; k < rim; k++) p[3 * (this.cells + k) + 2] = this.now[this.rim[k]];
    this.geometry.attributes.position.needsUpdate = true;
    this.geometry.attributes.color.needsUpdate = true;
  }

  /** The cell under a place in plan; -1 beside the block. */
  cell_at(x, y) {
    const {columns, rows, cell, low} = this.about;
    const i = Math.floor((x - low[0]) / cell), j = Math.floor((y - low[1]) / cell);
    return i < 0 || j < 0 || i >= columns || j >= rows ? -1 : j * columns + i;
  }
};
