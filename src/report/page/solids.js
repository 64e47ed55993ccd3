// Part, sheets, lines that the job names, and the tool.
'use strict';

YardPass.solids = (function () {
  const data = YardPass.data, about = data.about;
  const kPart = 0xb8c4d0, kCut = 0xd9822b;
  const kRegions = [0xe3b778, 0x9cc9dd, 0x86bfa5, 0xd9cf8a, 0x8ea9cf, 0xd79a7f, 0xc9a9c4, 0xb9bec6];
  const kLines = {'sharp edge': 0x40454d, curve: 0x8d3fa0, boundary: 0xc2410c, role: 0x0b7285};
  const kSheets = {lid: 0x3f8f5b, 'run-out': 0x2b7fa8, carrier: 0x8d6fb0, 'keep-away': 0xb03a48};
  const kBodies = {cutter: 0xe0b13c, neck: 0xa9adb3, shank: 0xa9adb3, holder: 0x6c7580};

  const kCutBodies = {cutter: 0xa87f1c, neck: 0x7d8187, shank: 0x7d8187, holder: 0x474e57};

  const part = {points: data.places('part'), corners: data.steps('part-corners')};
  part.count = part.corners ? part.corners.length / 3 : 0;
  part.regions = data.runs('part-regions', part.count);

  function spread_out(points, corners) {
    const flat = new Float32Array(3 * corners.length);
    for (let i = 0; i < corners.length; i++)
      for (let k = 0; k < 3; k++) flat[3 * i + k] = points[3 * corners[i] + k];
    return flat;
  }

  /** How bright a surface is, by its normal: a lamp at the upper left of the front, and light from all sides.
   *  Worked out once and kept in the colours, for a slow machine has better things to do while it turns. */
  function light(x, y, z) {
    const lamp = -0.40 * x - 0.45 * y + 0.80 * z;
    return 0.62 + 0.38 * lamp;
  }

  /** Two faces: behind a section the inside shows in one colour, like a cut through solid material. */
  function solid(geometry, colour, more) {
    const group = new THREE.Group();
    const Material = more ? THREE.MeshBasicMaterial : THREE.MeshLambertMaterial;
    const side = (which) => new Material(Object.assign({color: colour, side: which}, more));
    const both = side(THREE.DoubleSide), front = side(THREE.FrontSide);
    const outside = new THREE.Mesh(geometry, both);
    const inside = new THREE.Mesh(geometry, new THREE.MeshBasicMaterial({color: kCut, side: THREE.BackSide}));
    inside.visible = false;
    group.add(outside, inside);
    group.cut = (on, shade) => {
      inside.material.color.set(shade || kCut);
      inside.visible = on;
      outside.material = on ? front : both;
    };
    /** Another index of the same corners, as while the view turns. */
    group.use = (other) => { outside.geometry = inside.geometry = other; };
    return group;
  }

  /** The triangles whose corners lie in three different cells of a coarse grid, each corner where the first of
   *  its cell is: few enough to turn on a slow machine. */
  function few_triangles() {
    const box = new THREE.Box3().setFromArray(part.points), size = box.getSize(new THREE.Vector3());
    const cell = size.length() / 160, first = new Map(), stands_for = new Uint32Array(part.points.length / 3);
    for (let i = 0; i < stands_for.length; i++) {
      const key = [0, 1, 2].reduce(
          (sum, k) => 1024 * sum + Math.floor((part.points[3 * i + k] - box.min.getComponent(k)) / cell), 0);
      if (!first.has(key)) first.set(key, i);
      stands_for[i] = first.get(key);
    }
    const kept = [];
    for (let t = 0; t < part.count; t++) {
      const [a, b, c] = [0, 1, 2].map((k) => stands_for[part.corners[3 * t + k]]);
      if (a !== b && b !== c && c !== a) kept.push(t);
    }
    const flat = new Float32Array(9 * kept.length);
    kept.forEach((t, n) => {
      for (let i = 0; i < 9; i++)
        flat[9 * n + i] = part.points[3 * stands_for[part.corners[3 * t + Math.floor(i / 3)]] + i % 3];
    });
    return {kept, flat};
  }

  function part_mesh() {
    const geometry = new THREE.BufferGeometry();
    part.flat = spread_out(part.points, part.corners);
    geometry.setAttribute('position', new THREE.BufferAttribute(part.flat, 3));
    const colours = new Uint8Array(3 * part.corners.length), bright = new Float32Array(part.count);
    for (let t = 0; t < part.count; t++) {
      const n = YardPass.normal_of(part.flat, t);
      bright[t] = light(n.x, n.y, n.z);
    }
    geometry.setAttribute('color', new THREE.BufferAttribute(colours, 3, true));
    const mesh = solid(geometry, 0xffffff, {vertexColors: THREE.VertexColors});
    const many = part.count > 150000, few = many ? few_triangles() : null;
    if (many) {
      mesh.coarse = new THREE.BufferGeometry();
      mesh.coarse.setAttribute('position', new THREE.BufferAttribute(few.flat, 3));
      mesh.coarse.setAttribute('color', new THREE.BufferAttribute(new Uint8Array(few.flat.length), 3, true));
    }
    mesh.fine = geometry;
    mesh.by_region = (on) => {
      for (let t = 0; t < part.count; t++) {
        const rgb = on ? kRegions[part.regions[t] % kRegions.length] : kPart, b = bright[t];
        const red = b * (rgb >> 16), green = b * (rgb >> 8 & 255), blue = b * (rgb & 255);
        for (let i = 9 * t; i < 9 * t + 9; i += 3) colours[i] = red, colours[i + 1] = green, colours[i + 2] = blue;
      }
      geometry.attributes.color.needsUpdate = true;
      if (!many) return;
      const coarse = mesh.coarse.attributes.color;
      few.kept.forEach((t, n) => coarse.array.set(colours.subarray(9 * t, 9 * t + 9), 9 * n));
      coarse.needsUpdate = true;
    };
    mesh.by_region(about.of === 'part');
    return mesh;
  }

  function layers() {
    return about.layers.map((layer) => {
      const points = data.places(layer.key), counts = data.steps(layer.key + '-counts');
      const pairs = [], pieces = [];
      let at = 0;
      counts.forEach((count, number) => {
        pieces.push([at, at + count]);
        for (let i = at; i + 1 < at + count; i++) {
          pairs.push(points[3 * i], points[3 * i + 1], points[3 * i + 2]);
          pairs.push(points[3 * i + 3], points[3 * i + 4], points[3 * i + 5]);
        }
        at += count;
      });
      const geometry = new THREE.BufferGeometry();
      geometry.setAttribute('position', new THREE.BufferAttribute(new Float32Array(pairs), 3));
      const seen_through = layer.kind !== 'sharp edge';
      const lines = new THREE.LineSegments(geometry, new THREE.LineBasicMaterial(
          {color: kLines[layer.kind] || 0x40454d, depthTest: !seen_through}));
      return Object.assign({points, pieces, object: lines}, layer);
    });
  }

  function sheets() {
    return about.sheets.map((sheet) => {
      const geometry = new THREE.BufferGeometry();
      geometry.setAttribute('position', new THREE.BufferAttribute(
          spread_out(data.places(sheet.key), data.steps(sheet.key + '-corners')), 3));
      geometry.computeVertexNormals();
      const object = new THREE.Mesh(geometry, new THREE.MeshLambertMaterial(
          {color: kSheets[sheet.kind], side: THREE.DoubleSide, transparent: true, opacity: 0.55,
           depthWrite: false}));
      return Object.assign({object}, sheet);
    });
  }

  /** One group a tool, its tip at the origin. */
  function tools() {
    return (about.tools || []).map((tool) => {
      const group = new THREE.Group();
      const add = (name, outline) => {
        const lathe = new THREE.LatheBufferGeometry(outline.map((p) => new THREE.Vector2(p[0], p[1])), 40);
        lathe.rotateX(Math.PI / 2);
        const body = solid(lathe, kBodies[name]);
        body.name = name;
        group.add(body);
      };
      tool.bodies.forEach((body) => add(body.part, body.outline));
      group.cut = (on) => group.children.forEach((body) => body.cut(on, kCutBodies[body.name]));
      group.visible = false;
      return group;
    });
  }

  return {part, part_mesh, layers, sheets, tools, solid, light};
})();
