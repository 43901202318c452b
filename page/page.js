// SPDX-License-Identifier: MIT
// The live page. It shows what the process computed, and sends changes; it works out no colours and
// no frames of its own. docs/live.md has what goes over the socket.

import {beginDrawing, drawingSeen, showDrawing} from './draw.js';
import {layOut, showFrame, showScene} from './picture.js';

const $ = id => document.getElementById(id);

/** An element with properties, and children; text is never read as HTML. */
function el(tag, props = {}, ...children) {
  const node = document.createElement(tag);
  for (const [key, value] of Object.entries(props)) {
    if (key in node && key !== 'list') node[key] = value;
    else node.setAttribute(key, value);
  }
  node.append(...children);
  return node;
}

// ---- what goes to the process ----------------------------------------------------------------

let socket = null, number = 0, wait = 500;
const answers = new Map();

/** Sends a message; resolves to what is wrong, or '' when it is done. */
function send(message) {
  return new Promise(resolve => {
    if (!socket || socket.readyState !== WebSocket.OPEN) return resolve('not connected');
    answers.set(++number, resolve);
    socket.send(JSON.stringify({number, ...message}));
  });
}

let forget = 0;
function tell(wrong) {
  $('wrong').textContent = wrong;
  clearTimeout(forget);
  if (wrong) forget = setTimeout(() => { $('wrong').textContent = ''; }, 6000);
}

/** A change, with what is wrong shown. */
async function change(line) {
  const wrong = await send({change: line});
  tell(wrong);
  return !wrong;
}

/** Of changes that come fast, such as those of a finger that moves: the newest, one at a time. */
const latest = new Map();
function changeSoon(what, line) {
  const at = latest.get(what);
  if (at) { at.next = line; return; }
  const own = {next: null};
  latest.set(what, own);
  (async () => {
    for (let now = line; now; now = own.next) {
      own.next = null;
      await change(now);
    }
    latest.delete(what);
  })();
}

const quote = text => '"' + text.replace(/[\\"]/g, '\\$&').replace(/\n/g, '\\n') + '"';
const unquote = text => /^".*"$/s.test(text)
  ? text.slice(1, -1).replace(/\\(.)/gs, (all, c) => c === 'n' ? '\n' : c) : text;
/** A value in a setting: a unit stands at its number; in quotes where it has spaces. */
const asValue = text => {
  const bare = text.trim().replace(/^([-+]?[\d.]+)\s+([a-z%/]+)$/i, '$1$2');
  return /[\s"]/.test(bare) ? quote(bare) : bare;
};

// ---- what comes from the process -------------------------------------------------------------

let scene = null, state = null, looks = new Map(), maskParameters = [], trouble = '';

const seconds = ms => `${(ms / 1000).toFixed(1)} s`;
function showTime(ms) {
  if (document.activeElement !== $('seek')) $('seek').value = seconds(ms);
}

function takeFrame(bytes) {
  showTime(new DataView(bytes).getUint32(0, true));
  showFrame(new Uint8Array(bytes, 8));
}

function take(message) {
  if (message.kind === 'answer') {
    answers.get(message.number)?.(message.wrong || '');
    answers.delete(message.number);
  } else if (message.kind === 'state') {
    if (state && state.scene !== message.scene) takeScene();
    state = message;
    showState();
  } else if (message.kind === 'drawing') {
    showDrawing(message);
  } else if (message.kind === 'status') {
    showStatus(message);
  }
}

/** Sets what a control shows, unless somebody is at it. */
function set(control, value) {
  if (document.activeElement !== control && control.value !== String(value)) control.value = value;
}

function showStatus(status) {
  showTime(status.show_ms);
  $('supplies').replaceChildren(...status.supplies.map(s => el('span', {},
    `${s.name} ${s.gives_a.toFixed(2)} of ${s.most_a} A `,
    el('meter', {max: s.most_a, value: s.gives_a, high: s.most_a, ariaLabel: `current of ${s.name}`}),
    s.light < 100 ? ` dimmed to ${Math.round(s.light)} %` : '')));
  const n = status.findings.length, list = $('findings');
  list.firstElementChild.textContent = n === 0 ? 'No findings' : n === 1 ? '1 finding' : `${n} findings`;
  list.lastElementChild.replaceChildren(...status.findings.map(f =>
    el('li', {className: f.level}, `${f.level}: ${f.place}: ${f.text}`)));
  if (status.trouble !== trouble) {
    trouble = status.trouble;
    $('trouble').textContent = trouble && `A file has changed and is wrong; what was there goes on. ${trouble}`;
  }
  const late = status.late ? `, ${status.late} frames late` : '';
  $('link').textContent = `Connected${late}`;
}

function options(select, values) {
  const wanted = values.join('\n');
  if (select.dataset.has === wanted) return;
  const was = select.value;
  select.dataset.has = wanted;
  select.replaceChildren(...values.map(v => el('option', {value: v}, v)));
  if (values.includes(was)) select.value = was;
}

function showState() {
  $('rig').textContent = state.rig;
  $('to-nodes').hidden = !state.node;
  document.title = `${state.rig} - Diachrome`;
  set($('master'), state.master);
  set($('master-text'), `${state.master} %`);
  $('pause').setAttribute('aria-pressed', state.paused);
  $('pause').textContent = state.paused ? 'Go on' : 'Pause';
  const paces = ['0%', '25%', '50%', '100%', '200%', '400%'];
  if (!paces.includes(`${state.pace}%`)) paces.push(`${state.pace}%`);
  options($('pace'), paces);
  set($('pace'), `${state.pace}%`);
  $('undo').disabled = !state.undo;
  $('redo').disabled = !state.redo;
  $('save').hidden = !state.may_save;
  if (!isTyped) set($('text'), state.text);
  showParts();
  showStack();
  showInputs();
  showPresets();
}

// ---- colour ----------------------------------------------------------------------------------

/** What can be painted: everything, each thing, each colour of a layer. */
function showParts() {
  const parts = ['everything', ...scene.things.map(t => t.name)];
  for (const layer of state.layers) {
    for (const p of looks.get(layer.look) || []) {
      if (p.kind === 'colour') parts.push(`layer ${layer.layer}: ${p.key}`);
    }
  }
  options($('part'), parts);
}

function paintLine(colour) {
  const part = $('part').value, layer = /^layer (.*): (.*)$/.exec(part);
  if (layer) return `set ${layer[1]}.${layer[2]}=${colour}`;
  return `paint ${part === 'everything' ? 'all' : part} ${colour}`;
}

const field = $('field'), marker = {x: 0.08, y: 0.5};

/** Every hue across, white at the top, black at the bottom: the browser mixes it, and what is under
 *  the finger is read from it. */
function drawField() {
  field.width = Math.max(64, field.clientWidth);
  field.height = Math.max(64, field.clientHeight);
  const draw = field.getContext('2d', {willReadFrequently: true});
  const hues = draw.createLinearGradient(0, 0, field.width, 0);
  ['#f00', '#ff0', '#0f0', '#0ff', '#00f', '#f0f', '#f00'].forEach((c, k) => hues.addColorStop(k / 6, c));
  draw.fillStyle = hues;
  draw.fillRect(0, 0, field.width, field.height);
  const light = draw.createLinearGradient(0, 0, 0, field.height);
  for (const [at, c] of [[0, '#fff'], [0.03, '#fff'], [0.5, '#fff0'], [0.5, '#0000'], [0.97, '#000'], [1, '#000']])
    light.addColorStop(at, c);
  draw.fillStyle = light;
  draw.fillRect(0, 0, field.width, field.height);
}

function pick() {
  const x = Math.min(field.width - 1, Math.round(marker.x * field.width));
  const y = Math.min(field.height - 1, Math.round(marker.y * field.height));
  const [r, g, b] = field.getContext('2d').getImageData(x, y, 1, 1).data;
  const colour = '#' + [r, g, b].map(c => c.toString(16).padStart(2, '0')).join('');
  showColour(colour);
  changeSoon('colour', paintLine(colour));
}

function showColour(colour) {
  $('swatch').style.background = colour;
  $('colour-text').value = colour;
  field.setAttribute('aria-valuetext', colour);
  field.setAttribute('aria-valuenow', Math.round(marker.x * 360));
}

function point(event) {
  const box = field.getBoundingClientRect();
  marker.x = Math.min(1, Math.max(0, (event.clientX - box.left) / box.width));
  marker.y = Math.min(1, Math.max(0, (event.clientY - box.top) / box.height));
  pick();
}

field.addEventListener('pointerdown', event => {
  field.setPointerCapture(event.pointerId);
  point(event);
});
field.addEventListener('pointermove', event => {
  if (field.hasPointerCapture(event.pointerId)) point(event);
});
field.addEventListener('keydown', event => {
  const step = event.shiftKey ? 0.1 : 0.01;
  const way = {ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step]}[event.key];
  if (!way) return;
  event.preventDefault();
  marker.x = (marker.x + way[0] + 1) % 1;
  marker.y = Math.min(1, Math.max(0, marker.y + way[1]));
  pick();
});
$('colour-text').addEventListener('change', async () => {
  const colour = $('colour-text').value.trim();
  if (colour && await change(paintLine(asValue(colour)))) $('swatch').style.background = colour;
});
$('unpaint').addEventListener('click', () => {
  const part = $('part').value;
  if (part.startsWith('layer ')) return tell('a layer keeps a colour; choose a part to take its paint away');
  change(`paint ${part === 'everything' ? 'all' : part} none`);
});

// ---- layers ----------------------------------------------------------------------------------

const CLAUSES = {on: 'where it is', level: 'how much of it, such as 50%', blend: 'how it goes over those below',
                 along: 'what it runs along', mask: 'such as sine(length=1m)', from: 'when it begins',
                 for: 'how long', 'fade-in': 'a time', 'fade-out': 'a time'};
const WORDS = {blend: ['over', 'add', 'screen', 'multiply', 'lighten', 'darken'],
               along: ['along', 'x', 'y', 'radius', 'angle', 'side', 'index']};
let shape = '';
const controls = new Map(); // what shows a value of the state, by its name

const stackShape = () => JSON.stringify(state.layers.map(l => [l.layer, l.look]));

/** The number of a value with its unit, as the process wrote it. */
const amount = text => parseFloat(text);

/** Sliders of wide ranges go in even steps of size. */
function scaleOf(p) {
  const wide = p.max - p.min > 400 && p.min >= 0;
  const low = Math.max(p.min, wide ? p.max / 1e5 : p.min, p.kind === 'time' ? 0.05 : p.min);
  const high = p.kind === 'length' ? Math.min(p.max, 10000) : p.kind === 'speed' ? Math.min(p.max, 5000)
    : p.kind === 'time' ? Math.min(p.max, 120) : p.max;
  const bottom = p.kind === 'speed' && p.min < 0 ? -high : low;
  return wide && bottom > 0
    ? {to: v => Math.log(Math.max(v, bottom) / bottom) / Math.log(high / bottom) * 1000,
       from: s => bottom * (high / bottom) ** (s / 1000)}
    : {to: v => (v - bottom) / (high - bottom) * 1000, from: s => bottom + (high - bottom) * s / 1000};
}

const tidy = (p, v) => p.kind === 'count' ? String(Math.round(v)) : String(Number(v.toPrecision(3)));

/** The controls of one parameter, right for its unit; each can be typed too. lineOf(text) is the
 * change that a value makes. */
function parameter(p, name, label, lineOf) {
  const id = `p-${name.replace(/[^a-z0-9]/gi, '-')}`;
  const put = (text, soon) => {
    const line = lineOf(asValue(text));
    if (soon) changeSoon(name, line); else change(line);
  };
  const typed = el('input', {id, title: p.help, placeholder: p.unit === undefined ? p.help : 'not set', autocomplete: 'off', spellcheck: false});
  typed.addEventListener('change', () => put(p.kind === 'text' ? quote(typed.value) : typed.value));
  const box = el('div', {}, typed);
  const show = text => set(typed, p.kind === 'text' ? unquote(text) : text);
  let more = () => {};
  if (p.kind === 'choice') {
    const select = el('select', {id, title: p.help});
    options(select, p.words.split(' '));
    select.addEventListener('change', () => put(select.value));
    box.replaceChildren(select);
    controls.set(name, text => set(select, text));
    return [el('label', {htmlFor: id}, label), box];
  }
  if (p.kind === 'colour') {
    const well = el('input', {type: 'color', ariaLabel: `${p.key}, as a field`});
    well.addEventListener('input', () => put(well.value, true));
    box.prepend(well);
    more = (text, colour) => set(well, colour);
  } else if (p.unit !== undefined) {
    const scale = scaleOf(p);
    const slide = el('input', {type: 'range', min: 0, max: 1000, ariaLabel: `${p.key}, as a slider`});
    slide.addEventListener('input', () => {
      typed.value = tidy(p, scale.from(Number(slide.value))) + (p.unit ? ` ${p.unit}` : '');
      put(typed.value, true);
    });
    box.prepend(slide);
    more = text => set(slide, Math.round(scale.to(amount(text)) || 0));
  }
  controls.set(name, (text, colour) => { show(text); more(text, colour); });
  return [el('label', {htmlFor: id}, label), box];
}

function clause(layer, word) {
  const name = `${layer.layer} ${word}`, id = `c-${name.replace(/[^a-z0-9]/gi, '-')}`;
  const control = WORDS[word] ? el('select', {id}) : el('input', {id, title: CLAUSES[word], placeholder: CLAUSES[word], autocomplete: 'off', spellcheck: false});
  if (WORDS[word]) options(control, WORDS[word]);
  control.addEventListener('change', () => change(`clause ${name} ${control.value.trim() || 'none'}`));
  controls.set(`clause ${name}`, text => set(control, text || (WORDS[word] ? WORDS[word][0] : '')));
  return [el('label', {htmlFor: id}, word), el('div', {}, control)];
}

/** A mask as it is written, SHAPE(KEY=VALUE ...), in parts; without one the shape is `none`. */
function maskOf(name) {
  const text = state.layers.find(l => l.layer === name)?.clauses.mask || 'none';
  const [, shape, inside] = /^(\w+)\s*(?:\((.*)\))?$/.exec(text) || [text, 'none', ''];
  return new Map([['shape', shape], ...(inside || '').split(/\s+/).filter(Boolean).map(word => word.split('='))]);
}

function maskLine(name, key, value) {
  const mask = maskOf(name).set(key, value), shape = mask.get('shape');
  mask.delete('shape');
  const inside = [...mask].map(setting => setting.join('=')).join(' ');
  return `clause ${name} mask ${shape === 'none' || !inside ? shape : `${shape}(${inside})`}`;
}

/** One setting of a layer's mask; there to be seen once it has a shape. */
function maskControl(name, p) {
  const words = p.key === 'shape' ? {...p, words: `none ${p.words}`} : p;
  const nodes = parameter(words, `${name} mask ${p.key}`, `mask ${p.key}`, text => maskLine(name, p.key, text));
  const show = controls.get(`${name} mask ${p.key}`);
  controls.set(`${name} mask ${p.key}`, mask => {
    for (const node of nodes) node.hidden = mask.get('shape') === 'none' && p.key !== 'shape';
    show(mask.get(p.key) ?? (amount(p.usual) < p.min ? '' : p.usual)); // of 0 there is none
  });
  return nodes;
}

function layerItem(layer, place) {
  const button = (text, name, line) => {
    const b = el('button', {type: 'button', ariaLabel: name}, text);
    b.addEventListener('click', () => change(line));
    return b;
  };
  const select = el('select', {ariaLabel: `look of ${layer.layer}`});
  options(select, [...new Set([...looks.keys(), layer.look])]);
  select.value = layer.look;
  select.addEventListener('change', () => change(`look ${layer.layer} ${select.value}`));
  const fields = el('div', {className: 'fields'},
    el('label', {}, 'look'), el('div', {}, select),
    ...(looks.get(layer.look) || Object.keys(layer.parameters).map(key => ({key, kind: 'words', help: ''})))
      .flatMap(p => parameter(p, `${layer.layer}.${p.key}`, p.key, text => `set ${layer.layer}.${p.key}=${text}`)),
    ...Object.keys(CLAUSES).flatMap(word => [...clause(layer, word),
      ...(word === 'mask' ? maskParameters.flatMap(p => maskControl(layer.layer, p)) : [])]));
  const where = el('span');
  controls.set(`where ${layer.layer}`, text => { where.textContent = text ? `on ${text}` : 'on everything'; });
  return el('li', {}, el('details', {},
    el('summary', {}, el('b', {}, layer.layer), el('span', {}, layer.look), where),
    fields,
    el('div', {className: 'line'},
      button('Up', `${layer.layer} up`, `move ${layer.layer} ${Math.min(place + 1, state.layers.length)}`),
      button('Down', `${layer.layer} down`, `move ${layer.layer} ${Math.max(place - 1, 1)}`),
      button('Drop', `drop ${layer.layer}`, `drop ${layer.layer}`))));
}

function showStack() {
  if (shape !== stackShape()) {
    const open = new Set([...document.querySelectorAll('#stack details[open] b')].map(b => b.textContent));
    shape = stackShape();
    controls.clear();
    $('stack').replaceChildren(...state.layers.map((l, k) => layerItem(l, k + 1)).reverse());
    for (const b of document.querySelectorAll('#stack b')) {
      if (open.has(b.textContent)) b.closest('details').open = true;
    }
  }
  for (const layer of state.layers) {
    controls.get(`where ${layer.layer}`)(layer.clauses.on || '');
    for (const [key, text] of Object.entries(layer.parameters)) controls.get(`${layer.layer}.${key}`)?.(text, layer.colours[key]);
    for (const word of Object.keys(CLAUSES)) controls.get(`clause ${layer.layer} ${word}`)(layer.clauses[word]);
    for (const p of maskParameters) controls.get(`${layer.layer} mask ${p.key}`)(maskOf(layer.layer));
  }
}

$('add').addEventListener('submit', event => {
  event.preventDefault();
  const names = new Set(state.layers.map(l => l.layer)), look = $('add-look').value;
  let name = look;
  for (let k = 2; names.has(name); k++) name = `${look}-${k}`;
  const where = $('add-where').value;
  change(`layer ${name}: ${look}${where === 'everything' ? '' : ` on ${where}`}`);
});

// ---- keys, texts, values ---------------------------------------------------------------------

let keysShown = '', textsShown = '', valuesShown = '';

function keyButton({key, does}) {
  const button = el('button', {type: 'button'}, key, el('small', {}, does));
  let down = false;
  const press = () => { if (!down) { down = true; button.setAttribute('aria-pressed', 'true'); change(`hold ${key}`); } };
  const release = () => { if (down) { down = false; button.setAttribute('aria-pressed', 'false'); change(`release ${key}`); } };
  button.addEventListener('pointerdown', event => { button.setPointerCapture(event.pointerId); press(); });
  for (const end of ['pointerup', 'pointercancel', 'lostpointercapture', 'blur']) button.addEventListener(end, release);
  button.addEventListener('keydown', event => { if ([' ', 'Enter'].includes(event.key)) { event.preventDefault(); press(); } });
  button.addEventListener('keyup', event => { if ([' ', 'Enter'].includes(event.key)) release(); });
  button.addEventListener('contextmenu', event => event.preventDefault());
  return button;
}

/** Keys with all that they do; those that do nothing only where none does anything. */
function keyList() {
  const all = new Map();
  for (const {key, does} of state.keys) {
    if (!all.has(key)) all.set(key, []);
    if (does) all.get(key).push(does);
  }
  const list = [...all].map(([key, does]) => ({key, does: does.join('; ')}));
  return list.some(k => k.does) ? list.filter(k => k.does) : list;
}

function showInputs() {
  const keys = keyList();
  if (keysShown !== JSON.stringify(keys)) {
    keysShown = JSON.stringify(keys);
    $('keys').replaceChildren(...(keys.length ? keys.map(keyButton) : ['This rig has no keys.']));
  }
  const texts = state.layers.filter(l => 'text' in l.parameters || 'says' in l.parameters);
  if (textsShown !== JSON.stringify(texts.map(l => l.layer))) {
    textsShown = JSON.stringify(texts.map(l => l.layer));
    $('texts').replaceChildren(...(texts.length ? texts.map(l => {
      const input = el('input', {autocomplete: 'off'}), key = 'says' in l.parameters ? 'says' : 'text';
      input.dataset.layer = l.layer;
      input.dataset.key = key;
      input.addEventListener('change', () => change(`set ${l.layer}.${key}=${quote(input.value)}`));
      return el('label', {}, el('span', {}, l.layer), input);
    }) : ['No layer shows a text.']));
  }
  for (const input of $('texts').querySelectorAll('input')) {
    const layer = texts.find(l => l.layer === input.dataset.layer);
    if (layer) set(input, unquote(layer.parameters[input.dataset.key]));
  }
  const inputs = state.values.filter(v => v.input);
  if (valuesShown !== JSON.stringify(inputs.map(v => v.name))) {
    valuesShown = JSON.stringify(inputs.map(v => v.name));
    $('values').replaceChildren(...(inputs.length ? inputs.map(v => {
      const input = el('input', {inputMode: 'decimal', autocomplete: 'off'});
      input.dataset.value = v.name;
      input.addEventListener('change', () => change(`value ${v.name} ${input.value.trim()}`));
      return el('label', {}, el('span', {}, v.name), input);
    }) : ['The show has no values that come in; a line such as "value wind input" adds one.']));
  }
  for (const input of $('values').querySelectorAll('input'))
    set(input, inputs.find(v => v.name === input.dataset.value)?.number ?? '');
}

// ---- presets ---------------------------------------------------------------------------------

let presetsShown = null;

function showPresets() {
  if (presetsShown === JSON.stringify(state.presets)) return;
  presetsShown = JSON.stringify(state.presets);
  $('preset-list').replaceChildren(...state.presets.map(name => {
    const use = el('button', {type: 'button'}, name);
    const drop = el('button', {type: 'button', ariaLabel: `drop preset ${name}`}, 'Drop');
    use.addEventListener('click', async () => tell(await send({preset_use: name})));
    drop.addEventListener('click', async () => tell(await send({preset_drop: name})));
    return el('li', {}, use, drop);
  }));
}

$('preset-save').addEventListener('submit', async event => {
  event.preventDefault();
  const wrong = await send({preset_save: $('preset-name').value});
  tell(wrong);
  if (!wrong) $('preset-name').value = '';
});

// ---- the show as text ------------------------------------------------------------------------

let typing = 0, isTyped = false; // isTyped: what stands there is not what shows, or not yet

/** A wrong text says its line: FILE:LINE: ...; the line is shown in place. */
function showWrongText(wrong) {
  const at = /:(\d+): (.*)$/s.exec(wrong);
  $('text-wrong').textContent = at ? `Line ${at[1]}: ${at[2]}` : wrong;
  $('text').setAttribute('aria-invalid', String(!!wrong));
  $('text').dataset.line = at ? at[1] : '';
}

$('text').addEventListener('input', () => {
  clearTimeout(typing);
  $('saved').textContent = '';
  isTyped = true;
  typing = setTimeout(async () => {
    const text = $('text').value, wrong = await send({text});
    showWrongText(wrong);
    isTyped = !!wrong || $('text').value !== text;
  }, 300);
});
$('text-wrong').addEventListener('click', () => {
  const line = Number($('text').dataset.line), rows = $('text').value.split('\n');
  if (!line) return;
  const from = rows.slice(0, line - 1).join('\n').length + (line > 1);
  $('text').focus();
  $('text').setSelectionRange(from, from + rows[line - 1].length);
});
$('save').addEventListener('click', async () => {
  const wrong = await send({save: ''});
  $('saved').textContent = wrong || 'Saved';
});

// ---- time and level --------------------------------------------------------------------------

$('pause').addEventListener('click', () => change(state.paused ? 'resume' : 'pause'));
$('pace').addEventListener('change', () => change(`pace ${$('pace').value}`));
$('undo').addEventListener('click', () => change('undo'));
$('redo').addEventListener('click', () => change('redo'));
$('master').addEventListener('input', () => {
  $('master-text').value = `${$('master').value} %`;
  changeSoon('master', `master ${$('master').value}%`);
});
const unit = (text, usual) => /[a-z%]$/i.test(text.trim()) ? text.replace(/\s/g, '') : text.trim() + usual;
$('master-text').addEventListener('change', () => change(`master ${unit($('master-text').value, '%')}`));
$('seek').addEventListener('change', () => {
  change(`seek ${unit($('seek').value, 's')}`);
  $('seek').blur();
});
document.addEventListener('keydown', event => {
  if ((event.ctrlKey || event.metaKey) && event.key === 'z' && !/^(INPUT|TEXTAREA)$/.test(event.target.tagName)) {
    event.preventDefault();
    change(event.shiftKey ? 'redo' : 'undo');
  }
});

// ---- tabs ------------------------------------------------------------------------------------

const tabs = [...document.querySelectorAll('[role=tab]')];
function choose(tab, focus) {
  for (const t of tabs) {
    const own = t === tab;
    t.setAttribute('aria-selected', String(own));
    t.tabIndex = own ? 0 : -1;
    $(t.getAttribute('aria-controls')).hidden = !own;
  }
  if (focus) tab.focus();
  if (tab.id === 'tab-colour') drawField();
  if (tab.id === 'tab-draw') drawingSeen();
}
for (const [k, tab] of tabs.entries()) {
  tab.addEventListener('click', () => choose(tab));
  tab.addEventListener('keydown', event => {
    const way = {ArrowRight: 1, ArrowLeft: -1}[event.key];
    if (way) choose(tabs[(k + way + tabs.length) % tabs.length], true);
  });
}

// ---- connecting ------------------------------------------------------------------------------

const json = async path => (await fetch(path)).json();

/** Where everything is, now and when the rig's file has changed. */
async function takeScene() {
  scene = await json('/scene');
  options($('add-where'), ['everything', ...scene.things.map(t => t.name)]);
  showScene(scene);
  if (state) showParts();
}

async function connect() {
  try {
    if (!(await json('/pairing')).paired) {
      if (!$('pair').open) $('pair').showModal();
      return;
    }
    looks = new Map((await json('/looks')).map(l => [l.name, l.parameters]));
    maskParameters = (await json('/mask')).parameters;
    options($('add-look'), [...looks.keys()].filter(name => name !== 'picture')); // it needs a file
    state = null;
    await takeScene();
  } catch {
    return lost();
  }
  socket = new WebSocket(`ws://${location.host}/live`);
  socket.binaryType = 'arraybuffer';
  socket.onopen = () => {
    wait = 500;
    $('link').classList.remove('lost');
    $('link').textContent = 'Connected';
    socket.send('{"watch":true}');
  };
  socket.onmessage = event => {
    if (typeof event.data === 'string') take(JSON.parse(event.data));
    else takeFrame(event.data);
  };
  socket.onclose = lost;
}

function lost() {
  socket = null;
  for (const resolve of answers.values()) resolve('the connection was lost');
  answers.clear();
  $('link').textContent = 'Connection lost; trying again';
  $('link').classList.add('lost');
  setTimeout(connect, wait);
  wait = Math.min(wait * 1.6, 5000);
}

$('pair-form').addEventListener('submit', async event => {
  event.preventDefault();
  const answer = await fetch('/pairing', {method: 'POST', body: $('pair-code').value});
  if (answer.ok) {
    $('pair').close();
    connect();
  } else {
    $('pair-wrong').textContent = (await answer.json()).wrong;
  }
});
$('pair-again').addEventListener('click', () => json('/pairing'));

addEventListener('resize', () => { layOut(); drawField(); });
beginDrawing(send);
choose(tabs[0]);
connect();
