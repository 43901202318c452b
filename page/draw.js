// SPDX-License-Identifier: MIT
// The drawing editor of the live page. The process edits the file; the page shows its dots, sends
// which were touched, and the rig shows them at once. docs/live.md has the lines.

const $ = id => document.getElementById(id);
const tools = [
  ['undo', 'Undo'], ['redo', 'Redo'], ['mirror', 'Mirror'], ['flip', 'Flip'], ['turn', 'Turn'],
  ['invert', 'Invert'], ['clear', 'Clear'], ['shift-left', '←'], ['shift-right', '→'],
  ['shift-up', '↑'], ['shift-down', '↓'], ['wider', 'Wider'], ['narrower', 'Narrower'],
  ['higher', 'Higher'], ['lower', 'Lower']];
const names = {'shift-left': 'Shift to the left', 'shift-right': 'Shift to the right',
  'shift-up': 'Shift up', 'shift-down': 'Shift down', 'wider': 'One column more',
  'narrower': 'One column less', 'higher': 'One row more', 'lower': 'One row less'};

let send = null, drawing = {files: []}, fill = false;
let stroke = Math.floor(Math.random() * 1e9), paints = 0, last = null, cursor = {column: 0, row: 0};

/** A line about the drawing; what is wrong is shown. */
async function draw(line) {
  const wrong = await send({draw: line});
  $('draw-wrong').textContent = wrong;
  return !wrong;
}

// ---- the dots --------------------------------------------------------------------------------

const cell = (column, row) => parseInt(drawing.cells[row].substr(2 * column, 2), 16);

function size() {
  const canvas = $('dots'), width = canvas.clientWidth;
  const most = Math.min(width / drawing.columns, 420 / drawing.rows, 48);
  return Math.max(3, Math.floor(most));
}

function paint() {
  const canvas = $('dots'), dot = size(), scale = window.devicePixelRatio || 1;
  canvas.height = drawing.rows * dot * scale;
  canvas.width = canvas.clientWidth * scale;
  canvas.style.height = `${drawing.rows * dot}px`;
  const at = canvas.getContext('2d');
  at.scale(scale, scale);
  at.fillStyle = '#0e0f13';
  at.fillRect(0, 0, drawing.columns * dot, drawing.rows * dot);
  for (let row = 0; row < drawing.rows; row++)
    for (let column = 0; column < drawing.columns; column++) {
      const k = cell(column, row);
      at.fillStyle = k ? drawing.colours[k - 1] : '#23262e';
      at.fillRect(column * dot + 1, row * dot + 1, dot - 2, dot - 2);
    }
  if (document.activeElement === canvas) {
    at.strokeStyle = '#8ab8ff';
    at.lineWidth = 2;
    at.strokeRect(cursor.column * dot + 1, cursor.row * dot + 1, dot - 2, dot - 2);
  }
}

/** The dot under a pointer, or null. */
function dotAt(event) {
  const box = $('dots').getBoundingClientRect(), dot = size();
  const column = Math.floor((event.clientX - box.left) / dot), row = Math.floor((event.clientY - box.top) / dot);
  return column >= 0 && row >= 0 && column < drawing.columns && row < drawing.rows ? {column, row} : null;
}

/** Sets a dot here and there: the page does not wait to see it. */
function put({column, row}) {
  const text = drawing.cells[row];
  drawing.cells[row] = text.slice(0, 2 * column) + paints.toString(16).padStart(2, '0') + text.slice(2 * column + 2);
  cursor = {column, row};
  draw(`dot ${column} ${row} ${paints} ${stroke}`);
  paint();
}

/** All dots from the last one on, so that a fast finger leaves no holes. */
function lineTo(to) {
  const from = last ?? to, steps = Math.max(Math.abs(to.column - from.column), Math.abs(to.row - from.row), 1);
  for (let k = last ? 1 : 0; k <= steps; k++) {
    const dot = {column: Math.round(from.column + (to.column - from.column) * k / steps),
      row: Math.round(from.row + (to.row - from.row) * k / steps)};
    if (cell(dot.column, dot.row) !== paints) put(dot);
    if (!last && k === 0 && steps === 1) break;
  }
  last = to;
}

function press(dot) {
  if (fill) {
    draw(`fill ${dot.column} ${dot.row}`);
    return;
  }
  stroke = stroke % 1e9 + 1;
  paints = cell(dot.column, dot.row) === drawing.pen ? 0 : drawing.pen;
  last = null;
  lineTo(dot);
}

const dots = $('dots');
dots.addEventListener('pointerdown', event => {
  const dot = drawing.cells && dotAt(event);
  if (!dot) return;
  dots.setPointerCapture(event.pointerId);
  dots.focus();
  press(dot);
});
dots.addEventListener('pointermove', event => {
  const dot = last && dotAt(event);
  if (dot) lineTo(dot);
});
for (const end of ['pointerup', 'pointercancel']) dots.addEventListener(end, () => { last = null; });
dots.addEventListener('keydown', event => {
  const way = {ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1]}[event.key];
  if (!drawing.cells || (!way && event.key !== ' ' && event.key !== 'Enter')) return;
  event.preventDefault();
  if (way) {
    cursor.column = Math.min(Math.max(cursor.column + way[0], 0), drawing.columns - 1);
    cursor.row = Math.min(Math.max(cursor.row + way[1], 0), drawing.rows - 1);
  } else {
    press(cursor);
    last = null;
  }
  say();
  paint();
});
dots.addEventListener('focus', paint);
dots.addEventListener('blur', () => { if (drawing.cells) paint(); });
window.addEventListener('resize', () => { if (drawing.cells && !$('draw').hidden) paint(); });

/** Where the cursor is, for those who hear the page. */
function say() {
  const k = cell(cursor.column, cursor.row);
  dots.setAttribute('aria-valuetext', `column ${cursor.column + 1}, row ${cursor.row + 1}: ${k ? drawing.colours[k - 1] : 'dark'}`);
}

// ---- what is beside it -----------------------------------------------------------------------

function options(select, values, now) {
  const wanted = JSON.stringify(values);
  if (select.dataset.has !== wanted) {
    select.dataset.has = wanted;
    select.replaceChildren(...values.map(v => new Option(v, v)));
  }
  select.value = now;
}

function showPens() {
  $('pens').replaceChildren(...drawing.colours.map((colour, k) => {
    const pen = document.createElement('button');
    pen.type = 'button';
    pen.style.setProperty('--pen', colour);
    pen.className = 'pen';
    pen.setAttribute('aria-label', `Colour ${k + 1}, ${colour}`);
    pen.setAttribute('aria-pressed', String(drawing.pen === k + 1));
    pen.addEventListener('click', () => draw(`pen ${k + 1}`));
    return pen;
  }));
}

export function showDrawing(now) {
  const other = now.file !== drawing.file || now.item !== drawing.item || now.frame !== drawing.frame;
  const pens = JSON.stringify([now.colours, now.pen]) !== JSON.stringify([drawing.colours, drawing.pen]);
  const isOpen = Boolean(now.file), mine = last !== null && !other;
  if (mine) now.cells = drawing.cells; // a finger is on it: what it did is newer
  drawing = now;
  $('draw-none').hidden = now.files.length > 0;
  $('draw-file').parentElement.hidden = now.files.length === 0;
  options($('draw-file'), ['', ...now.files], now.file ?? '');
  $('draw-open').hidden = !isOpen;
  $('draw-trouble').textContent = now.trouble;
  if (!isOpen) return;
  options($('draw-item'), now.items, now.item);
  $('draw-frame').textContent = `${now.frame} of ${now.frames}`;
  $('draw-size').textContent = `${now.columns} × ${now.rows} dots`;
  $('draw-save').disabled = !now.may_save || now.unsaved === 0;
  $('draw-save').textContent = now.unsaved ? 'Save to its file' : 'Saved';
  $('draw-how').textContent = now.may_save ? '' : 'To save, begin with diachrome serve --save.';
  document.querySelector('[data-tool=undo]').disabled = now.undo === 0;
  document.querySelector('[data-tool=redo]').disabled = now.redo === 0;
  for (const button of document.querySelectorAll('#frames button')) button.disabled = now.glyph;
  if (pens) showPens();
  cursor.column = Math.min(cursor.column, now.columns - 1);
  cursor.row = Math.min(cursor.row, now.rows - 1);
  say();
  if (!$('draw').hidden) paint();
}

/** The panel has come into view. */
export function drawingSeen() {
  if (drawing.cells) paint();
}

export function beginDrawing(sends) {
  send = sends;
  for (const [tool, text] of tools) {
    const button = document.createElement('button');
    button.type = 'button';
    button.dataset.tool = tool;
    button.textContent = text;
    if (names[tool]) button.setAttribute('aria-label', names[tool]);
    button.addEventListener('click', () => draw(tool));
    $('tools').append(button);
  }
  $('draw-fill').addEventListener('click', () => {
    fill = !fill;
    $('draw-fill').setAttribute('aria-pressed', String(fill));
  });
  for (const button of document.querySelectorAll('#frames button'))
    button.addEventListener('click', () => draw(button.value));
  $('draw-file').addEventListener('change', () => draw($('draw-file').value ? `open ${$('draw-file').value}` : 'close'));
  $('draw-item').addEventListener('change', () => draw(`item ${$('draw-item').value}`));
  $('draw-save').addEventListener('click', () => draw('save'));
  $('draw-close').addEventListener('click', () => draw('close'));
  $('draw-new').addEventListener('submit', async event => {
    event.preventDefault();
    if (await draw(`new ${$('new-name').value} ${$('new-columns').value} ${$('new-rows').value}`)) $('new-name').value = '';
  });
}
