// What the page holds: numbers packed as docs/page.md says.
'use strict';
var YardPass = window.YardPass || {};

/** Of a triangle of corners one behind the other. */
YardPass.normal_of = function (flat, t) {
  const i = 9 * t, ux = flat[i + 3] - flat[i], uy = flat[i + 4] - flat[i + 1], uz = flat[i + 5] - flat[i + 2];
  const vx = flat[i + 6] - flat[i], vy = flat[i + 7] - flat[i + 1], vz = flat[i + 8] - flat[i + 2];
  const x = uy * vz - uz * vy, y = uz * vx - ux * vz, z = ux * vy - uy * vx, long = Math.sqrt(x * x + y * y + z * z) || 1;
  return {x: x / long, y: y / long, z: z / long};
};

YardPass.data = (function () {
  const about = JSON.parse(document.getElementById('about').textContent);

  function bytes(name) {
    const element = document.getElementById('data-' + name);
    if (!element) return null;
    const text = atob(element.textContent);
    element.remove();  // the text is no longer needed
    const result = new Uint8Array(text.length);
    for (let i = 0; i < text.length; i++) result[i] = text.charCodeAt(i);
    return result;
  }

  /** Whole numbers, up to 2^53: beyond what bit operations can do. */
  function numbers(name) {
    const from = bytes(name);
    if (!from) return null;
    let count = 0;
    for (let i = 0; i < from.length; i++) count += from[i] < 128;
    const result = new Float64Array(count);
    for (let i = 0, k = 0; k < count; k++) {
      let value = 0, scale = 1;
      for (; from[i] >= 128; i++, scale *= 128) value += (from[i] - 128) * scale;
      value += from[i++] * scale;
      result[k] = value % 2 ? -(value + 1) / 2 : value / 2;
    }
    return result;
  }

  function steps(name) {
    const result = numbers(name);
    if (result) for (let i = 1; i < result.length; i++) result[i] += result[i - 1];
    return result;
  }

  function runs(name, count, Kind) {
    const pairs = numbers(name), result = new (Kind || Int32Array)(count);
    let at = 0;
    for (let k = 0; pairs && k < pairs.length; k += 2) {
      result.fill(pairs[k], at, at + pairs[k + 1]);
      at += pairs[k + 1];
    }
    return result;
  }

  /** x, y, z one after the other, in millimetres. */
  function places(name) {
    const columns = ['x', 'y', 'z'].map((axis) => steps(name + '-' + axis));
    const count = columns[0] ? columns[0].length : 0, result = new Float32Array(3 * count);
    for (let k = 0; k < 3; k++)
      for (let i = 0; i < count; i++) result[3 * i + k] = columns[k][i] * about.step;
    return result;
  }

  /** A length in the job's units, as a job file would have it. */
  function length(mm) {
    const scaled = mm / about.mm_per_unit, digits = about.mm_per_unit > 1 ? 4 : 3;
    const text = scaled.toFixed(digits);
    return Number(text) === 0 ? (0).toFixed(digits) : text;
  }

  return {about, numbers, steps, runs, places, length};
})();
