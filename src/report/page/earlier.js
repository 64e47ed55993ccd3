// What changed against an earlier run: its report.json is read in the browser and goes nowhere.
'use strict';

YardPass.earlier = (function () {
  const about = YardPass.data.about, now = about.told;
  const two = (v) => String(v).padStart(2, '0');
  function clock(s) {
    const whole = Math.round(s), minutes = Math.floor(whole / 60);
    return minutes < 60 ? minutes + ':' + two(whole % 60) : Math.floor(minutes / 60) + ':' + two(minutes % 60) + ':' + two(whole % 60);
  }
  /** As on the screen: ties go to the even digit. */
  function fixed(v, digits) {
    const scale = Math.pow(10, digits), low = Math.floor(v * scale);
    return (v * scale - low === 0.5 ? (low % 2 ? low + 1 : low) / scale : v).toFixed(digits);
  }
  const inch = about.mm_per_unit > 1;
  const words = {
    duration: clock,
    way: (v) => inch ? fixed(v / 12, 1) + ' ft' : fixed(v / 1000, 2) + ' m',
    length: (v) => YardPass.data.length(v * about.mm_per_unit),
    percent: (v) => v > 0 && v < 0.0005 ? 'below 0.1 %' : v < 1 && v > 0.9995 ? 'above 99.9 %' : fixed(100 * v, 1) + ' %',
    area: (v) => fixed(v, inch ? 3 : 1) + ' ' + about.units + '2',
    count: (v) => fixed(v, 0)
  };
  /** A number of a report, dots leading into objects. */
  const number_in = (object, key) => key.split('.').reduce((at, name) => at == null ? at : at[name], object);

  function change(heading, form, was, is) {
    if (typeof was !== 'number' || typeof is !== 'number' || words[form](was) === words[form](is)) return null;
    const share = was > 0 ? 100 * (is - was) / was : 0;
    return heading + ' ' + words[form](is) + ', was ' + words[form](was) +
        (form !== 'percent' && form !== 'area' && Math.abs(share) >= 0.5 ? ' (' + (share > 0 ? '+' : '') + fixed(share, 0) + ' %)' : '');
  }

  function other_findings(before) {
    const is = now.findings.length;
    if (before.length !== is) return 'findings: ' + is + ', were ' + before.length;
    return JSON.stringify(before) === JSON.stringify(now.findings) ? null : 'findings: as many, ' + is + ', but other ones';
  }

  /** Lines of what changed; null: no report, or one of another job. */
  function changes(text) {
    let before;
    try {
      before = JSON.parse(text);
    } catch (error) {
      return null;
    }
    if (!before || !before.yardpass || !Array.isArray(before.operations) || !Array.isArray(before.findings) ||
        before.title !== now.title || before.units !== now.units)
      return null;
    const lines = [], left = before.operations.slice();
    const named = (operation) => 'operation ' + operation.number + ' "' + operation.name + '": ';
    for (const operation of now.operations) {
      const k = left.findIndex((one) => one.name === operation.name);
      const old = k < 0 ? null : left.splice(k, 1)[0];
      const told = old ? about.told_figures.map((f) => change(f.heading, f.form, number_in(old, f.key), number_in(operation, f.key)))
                             .concat(old.strategy !== operation.strategy ? ['strategy ' + operation.strategy + ', was ' + old.strategy] : [])
                             .filter((line) => line) : ['new'];
      if (told.length) lines.push(named(operation) + told.join('; '));
    }
    for (const operation of left) lines.push(named(operation) + 'gone');
    lines.push(change('missed', 'area', number_in(before, 'left.missed_area'), number_in(now, 'left.missed_area')),
               change('whole program', 'duration', before.seconds, now.seconds),
               other_findings(before.findings),
               before.verdict !== now.verdict ? 'verdict: ' + now.verdict + ', was ' + before.verdict : null);
    return lines.filter((line) => line);
  }

  const input = document.getElementById('earlier');
  if (input) input.addEventListener('change', () => {
    const list = document.getElementById('earlier-told');
    if (input.files.length) input.files[0].text().then((text) => {
      const lines = changes(text);
      list.replaceChildren(...(lines === null ? ['That is no report.json of a run of this job.'] : lines.length ? lines : ['Nothing changed.'])
          .map((line) => Object.assign(document.createElement('li'), {textContent: line})));
    });
  });
  return {changes};
})();
