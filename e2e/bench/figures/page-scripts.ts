/** What runs within the page: it notes times at the events that the viewer tells. */

/** Watches from the first moment of a page: own pixels, all read, tasks that are too long. */
export const WATCH = `
  window.bench = { drawn: 0, ready: 0, first: 0, long: [], settled: 0 };
  new PerformanceObserver((list) => {
    for (const e of list.getEntries()) window.bench.long.push([e.startTime, e.duration]);
  }).observe({ type: 'longtask', buffered: true });
  new PerformanceObserver((list) => (window.bench.first ||= list.getEntries()[0].startTime))
    .observe({ type: 'paint', buffered: true });
  addEventListener('drawn', () => (window.bench.drawn ||= performance.now()));
  addEventListener('settled', () => {
    window.bench.settled = performance.now();
    if (!document.querySelector('.stage-picture .reading')) window.bench.ready ||= performance.now();
  });`;

/** Clicks at places of the picture, one after the other, in and out, and notes when all was drawn. */
export const CLICKS = `
  const [places, ms, done] = arguments;
  const canvas = document.querySelector('.viewer canvas');
  const box = canvas.getBoundingClientRect();
  // The fitted picture, 16:9, lies as high as it goes.
  const width = Math.min(box.width - 16, ((box.height - 16) * 16) / 9);
  const send = (type, [x, y]) =>
    canvas.dispatchEvent(new PointerEvent(type, {
      bubbles: true, pointerId: 1, button: 0, buttons: type === 'pointerup' ? 0 : 1,
      clientX: box.left + box.width / 2 + (x - 0.5) * width,
      clientY: box.top + 8 + ((y * width) * 9) / 16,
    }));
  canvas.setPointerCapture = () => undefined;
  const rest = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
  (async () => {
    const times = [];
    for (const place of places) {
      const settled = new Promise((resolve) => addEventListener('settled', resolve, { once: true }));
      const start = performance.now();
      send('pointerdown', place);
      send('pointerup', place);
      await settled;
      times.push(performance.now() - start);
      // What is taken apart in the background, and saved, is not the next click's.
      await rest(ms);
    }
    done(times);
  })();`;

/** Drags a slider, first this way and then that, and notes for each step when the first new pixels and all of them were drawn. */
export const DRAG = `
  const [count, label, way, done] = arguments;
  const handle = document.querySelector('.el-slider__button-wrapper[aria-label="' + label + '"]');
  const box = handle.getBoundingClientRect();
  const y = box.top + box.height / 2;
  const send = (target, type, x) =>
    target.dispatchEvent(new MouseEvent(type, { bubbles: true, clientX: x, clientY: y, buttons: 1 }));
  const rest = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
  (async () => {
    let x = box.left + box.width / 2;
    send(handle, 'mousedown', x);
    const steps = [];
    for (let i = -5; i < count; i++) {
      x += (i + 5) % 20 < 10 ? way : -way;
      let first = 0;
      let last = 0;
      const drawn = () => {
        first ||= performance.now();
        last = performance.now();
      };
      addEventListener('drawn', drawn);
      const settled = new Promise((resolve) => addEventListener('settled', resolve, { once: true }));
      const start = performance.now();
      send(window, 'mousemove', x);
      await settled;
      removeEventListener('drawn', drawn);
      if (i >= 0 && first) steps.push([first - start, last - start]);
      await rest(20);
    }
    send(window, 'mouseup', x);
    done(steps);
  })();`;

/** Milliseconds from taking the last step back until the picture is whole again. */
export const UNDO = `
  const done = arguments[arguments.length - 1];
  const from = performance.now();
  addEventListener('settled', () => done(performance.now() - from), { once: true });
  document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'z', ctrlKey: true, bubbles: true }));
`;

/** Shows all variants, and tells when the pictures of the first row were there, and all of them, in milliseconds. */
export const WALL = `
  const done = arguments[arguments.length - 1];
  const from = performance.now();
  document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'y', bubbles: true }));
  let first = 0;
  const look = () => {
    const cells = document.querySelector('.wall .cells');
    const there = cells ? cells.querySelectorAll('canvas:not(.coming)').length : 0;
    const columns = cells ? getComputedStyle(cells).gridTemplateColumns.split(' ').length : Infinity;
    if (!first && there >= columns) first = performance.now() - from;
    if (cells && there === cells.children.length) done([first, performance.now() - from]);
    else requestAnimationFrame(look);
  };
  look();
`;

/** Bytes that the page and its workers hold, or 0 where the browser does not tell. */
export const MEMORY = `
  const done = arguments[0];
  performance.measureUserAgentSpecificMemory().then((m) => done(m.bytes), () => done(0));`;
