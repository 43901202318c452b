// SPDX-License-Identifier: MIT
// The picture of the rig on a canvas: what never changes is drawn once, each frame has what is lit over it, and
// the glow of that. Colours are those that the process sends.

const canvas = document.getElementById('picture');
let scene = null, frame = null, ground = null, boxes = [], due = false;
const soft = document.createElement('canvas'), softer = document.createElement('canvas');

/** Where everything is on the canvas, and what does not change of it. */
export function layOut() {
  if (!scene) return;
  const ratio = Math.min(devicePixelRatio || 1, 2), margin = 14;
  const width = canvas.clientWidth, most = parseFloat(getComputedStyle(canvas).maxHeight);
  const scale = Math.min((width - 2 * margin) / scene.width, (most - 2 * margin - 6) / scene.height);
  const height = scene.height * scale + 2 * margin + 6;
  canvas.style.height = `${height}px`;
  canvas.width = Math.round(width * ratio);
  canvas.height = Math.round(height * ratio);
  const left = (width - scene.width * scale) / 2, top = margin + 6;
  ground = document.createElement('canvas');
  ground.width = canvas.width;
  ground.height = canvas.height;
  const draw = ground.getContext('2d');
  draw.scale(ratio, ratio);
  boxes = [];
  for (const thing of scene.things) {
    const [x, y, w, h] = thing.box;
    draw.fillStyle = thing.ground;
    draw.fillRect(left + x * scale, top + y * scale, w * scale, h * scale);
    draw.fillStyle = '#9aa1ad';
    draw.font = '10px system-ui, sans-serif';
    draw.fillText(thing.name, left + x * scale, top + y * scale - 3);
    for (let k = 0, at = thing.at; k < thing.elements.length; k += 6) {
      const [ex, ey, ew, eh, shape, turn] = thing.elements.slice(k, k + 6);
      const box = {x: (left + ex * scale) * ratio, y: (top + ey * scale) * ratio,
                   w: ew * scale * ratio, h: eh * scale * ratio, shape, turn, at};
      if (turn % 2) [box.w, box.h] = [box.h, box.w];
      at += shape === 5 ? 9 : 3;
      boxes.push(box);
      if (shape === 5) continue;
      draw.setTransform(1, 0, 0, 1, 0, 0);
      draw.fillStyle = shape === 0 ? '#08090b' : '#26282d';
      put(draw, box);
      draw.setTransform(ratio, 0, 0, ratio, 0, 0);
    }
  }
  for (const [small, part] of [[soft, 6], [softer, 20]]) {
    small.width = Math.max(1, Math.ceil(canvas.width / part));
    small.height = Math.max(1, Math.ceil(canvas.height / part));
  }
  paint();
}

/** The shape of an element, filled. */
function put(draw, {x, y, w, h, shape}) {
  if (shape === 0) {
    draw.fillRect(x - w / 2, y - h / 2, Math.max(w, 1), Math.max(h, 1));
  } else if (shape === 1) {
    draw.beginPath();
    draw.ellipse(x, y, w / 2, h / 2, 0, 0, 7);
    draw.fill();
  } else { // a bar with pointed ends along its longer side, upright or leaning
    const end = Math.min(w, h) / 2, across = w > h;
    draw.beginPath();
    if (shape > 2) {
      const way = shape === 3 ? 1 : -1;
      for (const [a, b] of [[-1, -1], [-0.4, -1], [1, 1], [0.4, 1]])
        draw.lineTo(x + a * way * w / 2, y + b * h / 2);
    } else if (across) {
      for (const [a, b] of [[-w / 2, 0], [end - w / 2, -end], [w / 2 - end, -end], [w / 2, 0],
                            [w / 2 - end, end], [end - w / 2, end]])
        draw.lineTo(x + a, y + b);
    } else {
      for (const [a, b] of [[0, -h / 2], [end, end - h / 2], [end, h / 2 - end], [0, h / 2],
                            [-end, h / 2 - end], [-end, end - h / 2]])
        draw.lineTo(x + a, y + b);
    }
    draw.fill();
  }
}

/** 5 by 8 dots of a cell. */
function putCell(draw, box) {
  if (!frame[box.at]) return;
  const across = box.w / 5, down = box.h / 8;
  draw.fillStyle = '#10140e';
  for (let row = 0; row < 8; row++) {
    for (let k = 0; k < 5; k++) {
      if (frame[box.at + 1 + row] >> (4 - k) & 1)
        draw.fillRect(box.x - box.w / 2 + k * across, box.y - box.h / 2 + row * down,
                      across * 0.92, down * 0.92);
    }
  }
}

function paint() {
  due = false;
  if (!ground) return;
  const draw = canvas.getContext('2d');
  draw.globalCompositeOperation = 'copy';
  draw.drawImage(ground, 0, 0);
  draw.globalCompositeOperation = 'source-over';
  if (!frame) return;
  const glow = soft.getContext('2d');
  glow.setTransform(soft.width / canvas.width, 0, 0, soft.height / canvas.height, 0, 0);
  glow.clearRect(0, 0, canvas.width, canvas.height);
  for (const box of boxes) {
    if (box.shape === 5) { putCell(draw, box); continue; }
    const r = frame[box.at], g = frame[box.at + 1], b = frame[box.at + 2];
    if (!(r | g | b)) continue;
    draw.fillStyle = glow.fillStyle = `rgb(${r} ${g} ${b})`;
    put(draw, box);
    const s = Math.max(box.w, box.h) * 1.6;
    glow.fillRect(box.x - s / 2, box.y - s / 2, s, s);
  }
  const wide = softer.getContext('2d'); // what the air gives back: small pictures, drawn large
  wide.globalCompositeOperation = 'copy';
  wide.drawImage(soft, 0, 0, softer.width, softer.height);
  draw.globalCompositeOperation = 'lighter';
  draw.globalAlpha = 0.45;
  draw.drawImage(soft, 0, 0, canvas.width, canvas.height);
  draw.globalAlpha = 0.35;
  draw.drawImage(softer, 0, 0, canvas.width, canvas.height);
  draw.globalAlpha = 1;
}

/** Another scene, as /scene has it. */
export function showScene(another) {
  scene = another;
  frame = null;
  layOut();
}

/** A frame, drawn when the browser draws next; one of another scene is left out. */
export function showFrame(bytes) {
  if (!scene || bytes.length !== scene.bytes) return;
  frame = bytes;
  if (!due) { due = true; requestAnimationFrame(paint); }
}
