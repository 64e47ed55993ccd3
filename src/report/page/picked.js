// What a click tells, as text for a job.
'use strict';

/** `view`: part, stock, way, layers, kept(x, y, z): whether the section leaves a place, mark(at), outline: of what is drawn
    by clicks, high: the highest corner of all, changed(). */
YardPass.picking = function (view) {
  const {part, stock, way, layers, kept, mark, outline, high, changed} = view, {data, camera, solids, pick} = YardPass;
  const about = data.about, one = (id) => document.getElementById(id);
  const drawn = [];
  function tell_boundary() {
    const p = outline.geometry.attributes.position;
    drawn.concat(drawn.length > 2 ? [drawn[0]] : []).forEach((at, k) => p.setXYZ(k, at[0], at[1], at[2]));
    p.needsUpdate = true;
    outline.geometry.setDrawRange(0, drawn.length > 2 ? drawn.length + 1 : drawn.length);
    one('picked').textContent = drawn.length ?
        'keep_inside = [' + drawn.map((at) => '[' + data.length(at[0]) + ', ' + data.length(at[1]) + ']').join(', ') + ']' +
        (drawn.length < 3 ? '\n# three points or more' : '') : '';
    changed();
  }
  function place_told(at, triangle) {
    const lines = ['at = ' + pick.place_words(at)];
    if (triangle < 0) return lines;
    const up = YardPass.normal_of(solids.part.flat, triangle).z, number = solids.part.regions[triangle];
    lines.push('# slope ' + (Math.acos(Math.max(-1, Math.min(1, up))) * 180 / Math.PI).toFixed(1) + ' degrees from level');
    const radius = pick.radius_at(solids.part, triangle);
    lines.push('# radius there: ' + (isFinite(radius) ? data.length(Math.abs(radius)) + ' ' + about.units + (radius > 0 ? ', hollow' : ', bulging') : 'flat, or a sharp edge'));
    if (number > 0) lines.push('numbers = [' + number + ']  # region: ' + about.regions[number - 1].words);
    return lines;
  }
  function picked(x, y) {
    const ray = camera.ray(x, y);
    let [depth, triangle] = part.visible ? pick.on_part(solids.part.flat, ray.from, ray.way, kept) : [Infinity, -1];
    let cell = -1;
    if (stock && stock.object.visible) {
      const [d, c] = pick.on_stock(stock, ray.from, ray.way, kept);
      if (d < depth - 1e-4) depth = d, cell = c, triangle = -1;
    }
    const line = pick.on_lines(layers, ray, x, y, depth, kept);
    const path = way && way.object.visible ? pick.on_way(way, ray, x, y, depth, kept) : null;
    const words = [];
    let at = isFinite(depth) ? ray.from.clone().addScaledVector(ray.way, depth).toArray() : null;
    if (path && (!line || path.pixels <= line.pixels)) {
      const i = path.point - 1, operation = about.operations[way.operations[i]];
      at = path.at;
      words.push('at = ' + pick.place_words(at), '# operation ' + operation.number + ' "' + operation.name + '"' +
          (way.passes[i] > 0 ? ', pass ' + way.passes[i] : '') + ', ' + about.kinds[way.kinds[i]] + ', program line ' + way.lines[i]);
    } else if (line) {
      at = line.at;
      const edge = line.layer.kind === 'sharp edge';
      words.push(edge ? 'edges = [' + line.number + ']  # sharp edge' : '# ' + line.layer.kind + ' "' + line.layer.name + '"',
                 (edge ? 'edges_at = ' : 'at = ') + pick.place_words(at));
    } else if (at) {
      // Below the stock lies the part that it is to become.
      const below = cell >= 0 ? pick.on_part(solids.part.flat, new THREE.Vector3(at[0], at[1], high.z + 1), new THREE.Vector3(0, 0, -1), () => true)[1] : triangle;
      words.push(...place_told(at, below));
      if (cell >= 0) {
        const left = stock.left_at(cell);
        words.push('# stock: ' + (isNaN(left) ? 'no part below' : data.length(left) + ' ' + about.units + ' left on the part'));
      }
    }
    if (!at) return;
    mark(at);
    if (one('drawing').checked) {
      drawn.push(at);
      tell_boundary();
    } else {
      one('picked').textContent = words.join('\n');
    }
    one('hint').hidden = true;
  }
  one('drawing').addEventListener('change', () => {
    drawn.length = 0, one('undraw').hidden = !one('drawing').checked;
    tell_boundary();
  });
  one('undraw').addEventListener('click', () => { drawn.pop(), tell_boundary(); });
  one('copy').addEventListener('click', () => {
    const range = document.createRange();
    range.selectNodeContents(one('picked'));
    getSelection().removeAllRanges(), getSelection().addRange(range);
    document.execCommand('copy');
  });
  return picked;
};
