// From a click to the place, and to text for the job.
'use strict';

YardPass.pick = (function () {
  const data = YardPass.data, camera = YardPass.camera;

  /** The nearest face of the part along a ray: [distance, triangle]. `kept(x, y, z)`: not cut away. */
  function on_part(flat, from, way, kept) {
    let best = Infinity, triangle = -1;
    for (let t = 0; 9 * t < flat.length; t++) {
      const i = 9 * t, ax = flat[i], ay = flat[i + 1], az = flat[i + 2];
      const ux = flat[i + 3] - ax, uy = flat[i + 4] - ay, uz = flat[i + 5] - az;
      const vx = flat[i + 6] - ax, vy = flat[i + 7] - ay, vz = flat[i + 8] - az;
      const px = way.y * vz - way.z * vy, py = way.z * vx - way.x * vz, pz = way.x * vy - way.y * vx;
      const det = ux * px + uy * py + uz * pz;
      if (det === 0) continue;
      const sx = from.x - ax, sy = from.y - ay, sz = from.z - az;
      const u = (sx * px + sy * py + sz * pz) / det;
      if (u < 0 || u > 1) continue;
      const qx = sy * uz - sz * uy, qy = sz * ux - sx * uz, qz = sx * uy - sy * ux;
      const v = (way.x * qx + way.y * qy + way.z * qz) / det;
      if (v < 0 || u + v > 1) continue;
      const distance = (vx * qx + vy * qy + vz * qz) / det;
      if (distance < 0 || distance >= best) continue;
      if (!kept(from.x + distance * way.x, from.y + distance * way.y, from.z + distance * way.z)) continue;
      best = distance, triangle = t;
    }
    return [best, triangle];
  }

  /** Where a ray goes below the top of the stock: [distance, cell]. */
  function on_stock(stock, from, way, kept) {
    const {low, high, cell} = stock.about;
    let near = 0, far = Infinity;
    ['x', 'y', 'z'].forEach((axis, k) => {
      if (Math.abs(way[axis]) < 1e-12) {
        if (from[axis] < low[k] || from[axis] > high[k]) far = -1;
        return;
      }
      const a = (low[k] - from[axis]) / way[axis], b = (high[k] - from[axis]) / way[axis];
      near = Math.max(near, Math.min(a, b)), far = Math.min(far, Math.max(a, b));
    });
    const inside = (d) => {
      const x = from.x + d * way.x, y = from.y + d * way.y, z = from.z + d * way.z, at = stock.cell_at(x, y);
      return at >= 0 && stock.now[at] > low[2] && z <= stock.now[at] && kept(x, y, z) ? at : -1;
    };
    for (let d = near; d <= far; d += 0.35 * cell) {
      if (inside(d) < 0) continue;
      let out = Math.max(near, d - 0.35 * cell), within = d;
      for (let k = 0; k < 20; k++) {
        const middle = (out + within) / 2;
        if (inside(middle) < 0) out = middle;
        else within = middle;
      }
      return [within, inside(within)];
    }
    return [Infinity, -1];
  }

  /** The place of a line that is nearest on the screen: [pixels, piece, share]. */
  function beside(a, b, x, y) {
    const wide = b[0] - a[0], high = b[1] - a[1], square = wide * wide + high * high;
    const share = square > 0 ? Math.min(1, Math.max(0, ((x - a[0]) * wide + (y - a[1]) * high) / square)) : 0;
    return [Math.hypot(x - a[0] - share * wide, y - a[1] - share * high), share];
  }

  const kNear = 6;  // pixels

  /** The piece of the way that is seen nearest to a place of the screen, before `depth` along the ray. */
  function on_way(way, ray, x, y, depth, kept) {
    let best = null;
    const [first, last] = way.range, p = way.points;
    for (let k = first; k < last; k++) {
      const i = way.list[k], a = [p[3 * i], p[3 * i + 1], p[3 * i + 2]],
            b = [p[3 * i + 3], p[3 * i + 4], p[3 * i + 5]];
      const [pixels, share] = beside(camera.to_screen(a), camera.to_screen(b), x, y);
      if (pixels > kNear || (best && pixels > best.pixels)) continue;
      const at = a.map((v, n) => v + share * (b[n] - v));
      if (along(ray, at) > depth + 4 * ray.mm || !kept(at[0], at[1], at[2])) continue;
      best = {pixels, point: i + 1, at};
    }
    return best;
  }

  function along(ray, at) {
    return (at[0] - ray.from.x) * ray.way.x + (at[1] - ray.from.y) * ray.way.y + (at[2] - ray.from.z) * ray.way.z;
  }

  function on_lines(layers, ray, x, y, depth, kept) {
    let best = null;
    for (const layer of layers) {
      if (!layer.object.visible) continue;
      const p = layer.points, hidden = layer.kind === 'sharp edge';
      layer.pieces.forEach(([first, last], number) => {
        for (let i = first; i + 1 < last; i++) {
          const a = [p[3 * i], p[3 * i + 1], p[3 * i + 2]], b = [p[3 * i + 3], p[3 * i + 4], p[3 * i + 5]];
          const [pixels, share] = beside(camera.to_screen(a), camera.to_screen(b), x, y);
          if (pixels > kNear || (best && pixels > best.pixels)) continue;
          const at = a.map((v, n) => v + share * (b[n] - v));
          if ((hidden && along(ray, at) > depth + 6 * ray.mm) || !kept(at[0], at[1], at[2])) continue;
          best = {pixels, layer, number: number + 1, at};
        }
      });
    }
    return best;
  }

  /** The smallest radius that the part bends with at a triangle, by how its neighbours are turned against
   *  it: positive in a hollow, negative on a bulge, Infinity where it is flat or the joint is sharp. */
  function radius_at(part, t) {
    const vector = (s) => {
      const n = YardPass.normal_of(part.flat, s);
      return new THREE.Vector3(n.x, n.y, n.z);
    };
    const corners = [0, 1, 2].map((k) => part.corners[3 * t + k]), here = vector(t);
    const middle = (s) => [0, 1, 2].map((k) =>
        (part.flat[9 * s + k] + part.flat[9 * s + 3 + k] + part.flat[9 * s + 6 + k]) / 3);
    const m = middle(t);
    let sharpest = 0;
    for (let s = 0; s < part.count; s++) {
      let shared = 0;
      for (let k = 0; k < 3; k++) shared += corners.includes(part.corners[3 * s + k]);
      if (shared !== 2) continue;
      const other = vector(s), n = middle(s), angle = Math.acos(Math.min(1, here.dot(other)));
      const d = new THREE.Vector3(n[0] - m[0], n[1] - m[1], n[2] - m[2]);
      // The middles of long triangles lie far off the bend: only the way across the joint counts.
      const turn = other.clone().sub(here).normalize(), reach = Math.abs(d.dot(turn)) || d.length();
      if (angle < 1e-5 || angle > Math.PI / 6 || reach < 1e-9) continue;
      const bend = 2 * Math.sin(angle / 2) / reach * (d.dot(here) > 0 ? 1 : -1);
      if (Math.abs(bend) > Math.abs(sharpest)) sharpest = bend;
    }
    return sharpest ? 1 / sharpest : Infinity;
  }

  function place_words(at) {
    return '[' + at.map((v) => data.length(v)).join(', ') + ']';
  }

  return {on_part, on_stock, on_way, on_lines, radius_at, place_words};
})();
