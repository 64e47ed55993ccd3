// The view: what is shown, and what the controls beside it do.
'use strict';

(function () {
  const {data, camera, solids, pick} = YardPass, about = data.about, one = (id) => document.getElementById(id);
  const element = (tag, words, more) => Object.assign(document.createElement(tag), {textContent: words}, more);
  const canvas = one('canvas');
  let renderer;
  try {
    renderer = new THREE.WebGLRenderer({canvas, antialias: false, alpha: true});
  } catch (error) {
    one('no-view').hidden = false;
    return;
  }
  renderer.setClearColor(0, 0);

  // ---- what there is
  const scene = new THREE.Scene(), lamp = new THREE.DirectionalLight(0xffffff, 0.75);
  scene.add(new THREE.AmbientLight(0xffffff, 0.42), lamp, lamp.target);
  const part = solids.part_mesh(), layers = solids.layers(), sheets = solids.sheets(), tools = solids.tools();
  scene.add(part);
  for (const one_of of layers.concat(sheets)) scene.add(one_of.object);
  tools.forEach((tool) => scene.add(tool));
  const moves = about.moves && about.moves.points > 0;
  const way = moves ? new YardPass.Way() : null, stock = moves ? new YardPass.Stock(way) : null;
  if (moves) scene.add(stock.object, way.object, way.dots);
  const low = new THREE.Vector3(...about.part.low), high = new THREE.Vector3(...about.part.high);
  if (stock) low.min(new THREE.Vector3(...about.stock.low)), high.max(new THREE.Vector3(...about.stock.high));
  const box = new THREE.Box3(low, high);
  const marker = new THREE.Points(new THREE.BufferGeometry(), new THREE.PointsMaterial(
      {color: 0xd61f69, size: 11, sizeAttenuation: false, depthTest: false}));
  marker.geometry.setAttribute('position', new THREE.BufferAttribute(new Float32Array(3), 3));
  marker.visible = false;
  const outline = new THREE.Line(new THREE.BufferGeometry(), new THREE.LineBasicMaterial(
      {color: 0xd61f69, depthTest: false}));
  outline.geometry.setAttribute('position', new THREE.BufferAttribute(new Float32Array(3 * 1000), 3));
  outline.frustumCulled = marker.frustumCulled = false;
  outline.geometry.setDrawRange(0, 0);
  scene.add(marker, outline);

  // ---- drawing, only when something has changed: in fewer points while it moves, if that is slow, and in
  // more of them as soon as it is still
  let wanted = false, moving = false, coarse = 1, still = null, last = 0, asked = 0, frames = 0, slow = false;
  function draw() {
    wanted = false;
    const {towards, up, right} = camera.axes(), now = performance.now(), since = now - last;
    lamp.position.copy(towards).addScaledVector(up, 0.5).addScaledVector(right, -0.4);
    const last_of = last;
    last = now;
    // Asked for again right after the last frame: it goes on, however long a frame takes.
    if (frames++ && asked - last_of < 250) {
      if (!moving) set_moving(true);
      if (since > 70 && coarse > 0.35) coarse = since > 300 ? 0.35 : coarse * 0.75, size();
      if (since < 25 && coarse < 1) coarse = Math.min(1, coarse * 1.1), size();
      slow = slow || since > 100;  // once and for all: whoever is slow with all of it stays so
      use_few(slow);
    }
    renderer.render(scene, camera.three);
    clearTimeout(still);
    still = setTimeout(() => {
      set_moving(false);
      renderer.render(scene, camera.three);
    }, moving ? Math.max(220, Math.min(3000, 2 * since)) : 220);
    tell_scale();
  }
  function set_moving(on) {
    moving = on;
    if (!on) use_few(false);
    size();
  }
  function use_few(on) {
    if (stock) stock.object.use(on ? stock.coarse : stock.geometry);
    if (part.coarse) part.use(on ? part.coarse : part.fine);
    if (way) way.use_few(on);
  }
  function changed() {
    if (!wanted) wanted = true, asked = performance.now(), requestAnimationFrame(draw);
  }
  function size() {
    const ratio = window.devicePixelRatio || 1;
    // Still: two points for each of the screen, so that lines are smooth.
    renderer.setPixelRatio(moving ? Math.min(ratio, 2) * coarse : coarse < 0.6 ? Math.min(ratio, 2) : 2);
    renderer.setSize(canvas.parentElement.clientWidth, canvas.parentElement.clientHeight, false);
  }
  function tell_scale() {
    const mm = 2 * camera.look.half / canvas.clientHeight, unit = about.mm_per_unit, most = 120 * mm / unit;
    const ten = Math.pow(10, Math.floor(Math.log10(most))), long = [5, 2, 1].find((k) => k * ten <= most) * ten;
    one('scale').style.width = long * unit / mm + 'px';
    one('scale').firstElementChild.textContent = +long.toPrecision(3) + ' ' + about.units;
  }

  // ---- section
  const plane = new THREE.Plane(new THREE.Vector3(1, 0, 0), 0), cut = {axis: '', at: 0, side: -1};
  function set_section() {
    const k = 'xyz'.indexOf(cut.axis), on = k >= 0;
    if (on) {
      const a = low.getComponent(k), b = high.getComponent(k);
      cut.at = a + (b - a) * one('cut-at').value / 1000;
      if (one('cut-tool').checked && player && player.point > 0) cut.at = player.tip()[k];
      plane.normal.set(0, 0, 0).setComponent(k, cut.side);
      plane.constant = -cut.side * cut.at;
      one('cut-told').value = cut.axis.toUpperCase() + ' ' + data.length(cut.at) + ' ' + about.units;
    } else {
      one('cut-told').value = '';
    }
    renderer.clippingPlanes = on ? [plane] : [];
    part.cut(on, 0x8794a3);
    if (stock) stock.object.cut(on, 0xcf8a45);
    tools.forEach((tool) => tool.cut(on));
    changed();
  }
  const kept = (x, y, z) => !cut.axis || plane.normal.x * x + plane.normal.y * y + plane.normal.z * z + plane.constant >= 0;
  /** What lies before the section is cut away, so that the cut faces whoever looks. */
  function section_across(axis) {
    cut.axis = axis;
    if (axis) cut.side = camera.axes().towards[axis] > 0 ? -1 : 1;
    set_section();
  }
  document.getElementsByName('cut').forEach(
      (radio) => radio.addEventListener('change', () => section_across(radio.value)));
  one('cut-at').addEventListener('input', () => { one('cut-tool').checked = false, set_section(); });
  one('cut-tool').addEventListener('change', set_section);
  one('turn-cut').addEventListener('click', () => { cut.side = -cut.side, set_section(); });

  // ---- what is shown
  function box_for(list, words, checked, change) {
    const label = element('label', ''), input = element('input', '', {type: 'checkbox', checked});
    label.append(input, ' ' + words);
    input.addEventListener('change', () => { change(input.checked), changed(); });
    list.append(label);
    return input;
  }
  part.visible = !moves;
  const show = {};
  show.part = box_for(one('bodies'), 'part', part.visible, (on) => { part.visible = on; });
  if (moves) {
    show.stock = box_for(one('bodies'), 'stock', true, (on) => { stock.object.visible = on; });
    show.tool = box_for(one('bodies'), 'tool', true, () => shown());
  }
  show.regions = box_for(one('bodies'), 'regions by colour', about.of === 'part', part.by_region);
  for (const layer of layers.concat(sheets)) {
    layer.object.visible = layer.kind === 'sharp edge' ? about.of === 'part' : !moves;
    const words = layer.kind === 'sharp edge' ? 'sharp edges' : layer.kind + ' "' + layer.name + '"';
    box_for(one('layers'), words, layer.object.visible, (on) => { layer.object.visible = on; });
  }

  // ---- moves
  const time = (s) => {
    const whole = Math.round(s), two = (v) => String(v).padStart(2, '0');
    return (whole >= 3600 ? Math.floor(whole / 3600) + ':' + two(Math.floor(whole / 60) % 60) : Math.floor(whole / 60)) + ':' + two(whole % 60);
  };
  let player = null;
  function shown() {
    if (!player) return;
    stock.go(player.point);
    way.go(player.point);
    const tip = player.tip(), move = player.move(), operation = about.operations[way.operations[move]];
    tools.forEach((tool, k) => {
      tool.visible = show.tool.checked && operation && operation.tool === k && player.point > 0 &&
          (player.point < way.count || player.playing);
      tool.position.set(tip[0], tip[1], tip[2]);
    });
    if (cut.axis && one('cut-tool').checked) set_section();
    one('slider').value = player.point;
    one('play').textContent = player.playing ? 'pause' : 'play';
    const at_end = player.point >= way.count, feed = way.feeds[move] / about.mm_per_unit;
    one('now').textContent = player.point === 0 ? 'before the first move; the stock as it is set up' :
        (at_end ? 'end: ' : '') + (operation ? 'operation ' + operation.number + ' "' + operation.name + '"' : 'no operation') +
        (way.passes[move] > 0 ? ', pass ' + way.passes[move] : '') + ', ' + about.kinds[way.kinds[move]] +
        (feed > 0 ? ' at ' + +feed.toFixed(1) + ' ' + about.units + '/min' : '') + ', line ' + way.lines[move] +
        '; tip ' + pick.place_words(tip) + '; ' + time(player.seconds) + ' of ' + time(way.times[way.count]);
    changed();
  }
  function set_up_moves() {
    player = new YardPass.Player(way, shown);
    one('slider').max = way.count;
    one('slider').addEventListener('input', () => { player.playing = false, player.go(+one('slider').value); });
    const does = {
      'to-start': () => { player.pause(), player.go(0); }, 'to-end': () => { player.pause(), player.go(way.count); },
      'move-back': () => player.step(-1), 'move-on': () => player.step(1),
      'pass-back': () => player.leap('passes', -1), 'pass-on': () => player.leap('passes', 1),
      play: () => player.playing ? player.pause() : player.play()
    };
    for (const id of Object.keys(does)) one(id).addEventListener('click', does[id]);
    one('speed').addEventListener('change', () => { player.speed = +one('speed').value; });
    document.getElementsByName('way').forEach((radio) => radio.addEventListener('change', () => {
      way.trail = radio.value === 'trail';
      way.object.visible = radio.value !== 'none';
      way.dots.visible = way.object.visible && one('points').checked;
      shown();
    }));
    one('points').addEventListener('change', () => { way.dots.visible = way.object.visible && one('points').checked, changed(); });
    one('passes').addEventListener('change', () => {
      const found = /^\s*(\d+)\s*(?:-\s*(\d+))?\s*$/.exec(one('passes').value);
      way.only = found ? [+found[1], +(found[2] || found[1])] : null;
      if (!found) one('passes').value = '';
      way.choose(), shown();
    });
    const used = new Set(way.kinds);
    about.kinds.forEach((kind, k) => {
      if (!used.has(k) || k === 7) return;
      const input = box_for(one('kinds'), kind, true, (on) => {
        way.shown.kinds[on ? 'add' : 'delete'](k), way.choose();
      });
      const rgb = '#' + YardPass.Way.colours[k].toString(16).padStart(6, '0');
      input.parentElement.style.borderBottom = '3px solid ' + rgb;
    });
    about.operations.forEach((operation, k) => {
      const first = way.operations.indexOf(k);
      if (first < 0) return;
      const input = box_for(one('operations'), '', true, (on) => {
        way.shown.operations[on ? 'add' : 'delete'](k), way.choose();
      });
      const tool = operation.tool < 0 ? '' : ', T' + about.tools[operation.tool].number;
      const goes = element('button', 'go', {className: 'goes', title: 'to the end of this operation'});
      goes.addEventListener('click', (event) => {
        event.preventDefault(), player.pause(), player.go(way.operations.lastIndexOf(k) + 1);
      });
      input.parentElement.append(element('span', operation.number + ' ' + operation.name + tool + ', ' + time(operation.seconds)), goes);
    });
    tell_legend();
  }
  /** One strip, so that it hides little of the view: the lowest step at the left. */
  function tell_legend() {
    const steps = about.left_colours.steps, shade = (rgb) => '#' + rgb.toString(16).padStart(6, '0');
    const strip = element('div', '', {className: 'strip'});
    const field = (rgb, words) => {
      const box_of = element('div', words);
      box_of.style.borderColor = shade(rgb);
      strip.append(box_of);
    };
    const said = (mm) => +(mm / about.mm_per_unit).toPrecision(2);
    field(about.left_colours.below, 'below the part');
    for (const [up_to, rgb] of steps) field(rgb, up_to > 1e8 ? 'more' : 'to ' + said(up_to));
    field(about.left_colours.no_part, 'no part there');
    one('legend').append(element('div', 'left on the part, ' + about.units + '; here in cells of ' + data.length(about.stock.cell) +
        ', simulated in ' + data.length(about.stock.simulated_in)), strip);
  }

  // ---- the worst places
  function mark(at) {
    marker.geometry.attributes.position.array.set(at);
    marker.geometry.attributes.position.needsUpdate = true;
    marker.visible = true;
    changed();
  }
  function fly(at, line) {
    if (line > 0 && player) player.pause(), player.go(way.point_of_line(line));
    mark(at);
    camera.fly(at, Math.max(0.12 * box.getSize(new THREE.Vector3()).length(), 1));
  }
  function list_worst() {
    const list = one('worst'), name = (k) => k >= 0 ? 'operation ' + about.operations[k].number : about.resumed ? 'not cut since' : 'nothing cut there';
    const entry = (words, bad, at, line) => {
      const button = element('button', words, {className: bad ? 'bad' : ''});
      button.addEventListener('click', () => fly(at, line));
      list.append(button);
    };
    for (const finding of about.findings || [])
      entry(finding.kind + (finding.accepted ? ' (accepted)' : '') + ' ' + (finding.an_angle ? finding.depth.toFixed(0) + ' degrees' : data.length(finding.depth) + ' ' + about.units) +
            ', ' + name(finding.operation) + (finding.pass > 0 ? ', pass ' + finding.pass : '') + ', line ' + finding.worst_line, !finding.accepted, finding.at, finding.worst_line);
    for (const place of about.thickest || [])
      entry(data.length(place.left) + ' ' + about.units + ' left, ' + place.why + ', ' + name(place.operation) + (place.line > 0 ? ', line ' + place.line : ''), false, place.at, 0);
    if (!list.children.length) list.append(element('p', about.of === 'part' ? '' : 'none', {className: 'faint'}));
  }

  // ---- picking
  const picked = YardPass.picking({part, stock, way, layers, kept, mark, outline, high, changed});

  // ---- keys
  canvas.addEventListener('keydown', (event) => {
    const arrow = {ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1]}[event.key];
    const middle = [canvas.clientWidth / 2, canvas.clientHeight / 2];
    const does = {
      '+': () => camera.zoom(0.8, ...middle), '=': () => camera.zoom(0.8, ...middle), '-': () => camera.zoom(1.25, ...middle),
      '0': () => { camera.show(''), fit_all(); },
      s: () => {
        const next = cut.axis ? '' : cut.last || 'x';
        cut.last = cut.axis || next;
        document.getElementsByName('cut').forEach((radio) => { radio.checked = radio.value === next; });
        one('section-box').open = true;
        section_across(next);
      }
    };
    ['top', 'front', 'right', 'back', 'left', 'bottom', 'corner'].forEach((name, k) => { does[k + 1] = () => camera.show(name); });
    if (player)
      Object.assign(does, {
        ' ': () => player.playing ? player.pause() : player.play(), ',': () => player.step(-1), '.': () => player.step(1),
        '[': () => player.leap('passes', -1), ']': () => player.leap('passes', 1),
        Home: () => { player.pause(), player.go(0); }, End: () => { player.pause(), player.go(way.count); }
      });
    if (arrow && event.shiftKey) camera.move(-40 * arrow[0], -40 * arrow[1]);
    else if (arrow) camera.turn(8 * arrow[0], -8 * arrow[1]);
    else if (does[event.key] && !event.ctrlKey && !event.metaKey && !event.altKey) does[event.key]();
    else return;
    event.preventDefault();
  });
  function fit_all() {
    camera.fly(box.getCenter(new THREE.Vector3()).toArray(), 0.6 * box.getSize(new THREE.Vector3()).length());
  }
  document.querySelectorAll('#views button').forEach((button) => button.addEventListener('click', () => camera.show(button.dataset.view)));

  // ---- begin
  if (moves) set_up_moves();
  else ['player', 'way-box', 'findings-box', 'legend'].forEach((id) => { one(id).hidden = true; });
  list_worst();
  size();
  camera.start(canvas, box, changed, picked);
  new ResizeObserver(() => { size(), camera.apply(); }).observe(canvas.parentElement);
  if (player) shown();
  /** For scripts that look at the page: see docs/page.md. */
  window.yardpass = {
    about, camera, player, way, stock, fly, picked, cut,
    tool: () => {
      const tool = tools.find((one_of) => one_of.visible);
      return tool ? tool.position.toArray() : null;
    },
    frames: () => frames,
    ready: true
  };
})();
