// A look at the part without perspective, turned about Z by mouse, touch and keys.
'use strict';

YardPass.camera = (function () {
  const three = new THREE.OrthographicCamera(-1, 1, 1, -1, -1, 1);
  const look = {target: new THREE.Vector3(), azimuth: 30, elevation: 35, half: 50};
  const named = {
    top: [0, 90], bottom: [0, -90], front: [0, 0], back: [180, 0], left: [-90, 0], right: [90, 0],
    corner: [30, 35]
  };
  let canvas = null, changed = () => {}, box = null, flight = null;

  /** Unit vectors: to the right of the picture, up in it, and towards whoever looks. */
  function axes() {
    const a = look.azimuth * Math.PI / 180, e = look.elevation * Math.PI / 180;
    const right = new THREE.Vector3(Math.cos(a), Math.sin(a), 0);
    const towards = new THREE.Vector3(Math.sin(a) * Math.cos(e), -Math.cos(a) * Math.cos(e), Math.sin(e));
    return {right, towards, up: towards.clone().cross(right)};
  }

  function apply() {
    const {right, up, towards} = axes(), wide = canvas.clientWidth / Math.max(1, canvas.clientHeight);
    three.left = -look.half * wide, three.right = look.half * wide;
    three.top = look.half, three.bottom = -look.half;
    const far = 20 * (box ? box.getSize(new THREE.Vector3()).length() : 100) + 2 * look.half;
    three.near = 0, three.far = 2 * far;
    three.position.copy(look.target).addScaledVector(towards, far);
    three.quaternion.setFromRotationMatrix(new THREE.Matrix4().makeBasis(right, up, towards));
    three.updateProjectionMatrix();
    three.updateMatrixWorld();
    changed();
  }

  /** Everything in sight. */
  function fit() {
    const {right, up} = axes(), size = box.getSize(new THREE.Vector3());
    const across = (v) => Math.abs(v.x) * size.x + Math.abs(v.y) * size.y + Math.abs(v.z) * size.z;
    const wide = canvas.clientWidth / Math.max(1, canvas.clientHeight);
    look.half = 0.54 * Math.max(across(up), across(right) / wide, 1e-3);
    box.getCenter(look.target);
  }

  function show(name) {
    if (!named[name]) return;
    [look.azimuth, look.elevation] = named[name];
    fit();
    apply();
  }

  function turn(degrees, tilt) {
    look.azimuth = (look.azimuth + degrees) % 360;
    look.elevation = Math.max(-90, Math.min(90, look.elevation + tilt));
    apply();
  }

  /** By so many pixels. */
  function move(dx, dy) {
    const {right, up} = axes(), mm = 2 * look.half / canvas.clientHeight;
    look.target.addScaledVector(right, -dx * mm).addScaledVector(up, dy * mm);
    apply();
  }

  /** About a place of the canvas, which stays where it is. */
  function zoom(factor, x, y) {
    const {right, up} = axes();
    const mm = 2 * look.half / canvas.clientHeight, gain = mm * (1 - factor);
    look.target.addScaledVector(right, (x - canvas.clientWidth / 2) * gain)
        .addScaledVector(up, (canvas.clientHeight / 2 - y) * gain);
    look.half = Math.max(1e-3, look.half * factor);
    apply();
  }

  /** Brings a place to the middle, so near that `half_mm` is seen above and below. */
  function fly(place, half_mm) {
    const from = look.target.clone(), to = new THREE.Vector3(place[0], place[1], place[2]), half = look.half;
    const began = performance.now(), calm = matchMedia('(prefers-reduced-motion: reduce)').matches;
    clearTimeout(flight);
    const step = () => {
      const share = calm ? 1 : Math.min(1, (performance.now() - began) / 350), s = share * share * (3 - 2 * share);
      look.target.lerpVectors(from, to, s);
      look.half = half * Math.pow(half_mm / half, s);
      apply();
      if (share < 1) flight = setTimeout(step, 16);
    };
    step();
  }

  function ray(x, y) {
    const {right, up, towards} = axes(), mm = 2 * look.half / canvas.clientHeight;
    const far = three.far / 2;
    const from = look.target.clone().addScaledVector(right, (x - canvas.clientWidth / 2) * mm)
        .addScaledVector(up, (canvas.clientHeight / 2 - y) * mm).addScaledVector(towards, far);
    return {from, way: towards.clone().negate(), mm};
  }

  function to_screen(p) {
    const {right, up} = axes(), mm = 2 * look.half / canvas.clientHeight;
    const d = new THREE.Vector3(p[0], p[1], p[2]).sub(look.target);
    return [canvas.clientWidth / 2 + d.dot(right) / mm, canvas.clientHeight / 2 - d.dot(up) / mm];
  }

  function listen(on_click) {
    const down = new Map();
    let gone = 0, spread = 0;
    canvas.addEventListener('contextmenu', (event) => event.preventDefault());
    canvas.addEventListener('pointerdown', (event) => {
      canvas.setPointerCapture(event.pointerId);
      down.set(event.pointerId, [event.offsetX, event.offsetY]);
      if (down.size === 1) gone = 0;
      spread = 0;
    });
    canvas.addEventListener('pointermove', (event) => {
      const last = down.get(event.pointerId);
      if (!last) return;
      const dx = event.offsetX - last[0], dy = event.offsetY - last[1];
      gone += Math.abs(dx) + Math.abs(dy);
      down.set(event.pointerId, [event.offsetX, event.offsetY]);
      if (down.size === 2) {
        const [a, b] = [...down.values()], now = Math.hypot(a[0] - b[0], a[1] - b[1]);
        if (spread > 0 && now > 0) zoom(spread / now, (a[0] + b[0]) / 2, (a[1] + b[1]) / 2);
        spread = now;
        move(dx / 2, dy / 2);
      } else if (event.buttons > 1 || event.shiftKey) {
        move(dx, dy);
      } else {
        turn(-0.4 * dx, 0.4 * dy);
      }
    });
    const up = (event) => {
      if (down.delete(event.pointerId) && event.type === 'pointerup' && gone < 5 && down.size === 0 &&
          event.button === 0)
        on_click(event.offsetX, event.offsetY);
      spread = 0;
    };
    canvas.addEventListener('pointerup', up);
    canvas.addEventListener('pointercancel', up);
    canvas.addEventListener('wheel', (event) => {
      event.preventDefault();
      zoom(Math.pow(1.0015, Math.max(-300, Math.min(300, event.deltaY))), event.offsetX, event.offsetY);
    }, {passive: false});
  }

  function start(element, whole, on_change, on_click) {
    canvas = element, box = whole, changed = on_change;
    listen(on_click);
    show('corner');
  }

  return {three, look, named, start, apply, show, turn, move, zoom, fly, ray, to_screen, axes};
})();
