// SPDX-License-Identifier: MIT
// The list of the nodes of a rig, as the node that serves this page knows them: GET /nodes, once a
// second.

const $ = id => document.getElementById(id);
const clocks = {good: 'in step', poor: 'imprecise', free: 'follows no other', unknown: 'not known'};

/** What shows all of the rig and drives no part of it has a name that no node can have. */
const whole = '_whole';
/** The sum of files where the show names none. */
const none = '00000000';
const called = node => node.name === whole ? 'the whole' : node.name;

function cell(label, text, kind = '') {
  const td = document.createElement('td');
  td.dataset.label = label;
  td.textContent = text;
  td.className = kind;
  return td;
}

const isApart = node => Math.abs(node.behind_ms ?? 0) > 20;

/** How far a clock is from that of this node. */
function apart(node) {
  const ms = Math.abs(node.behind_ms);
  return `${ms.toFixed(ms < 10 ? 1 : 0)} ms ${node.behind_ms < 0 ? 'ahead' : 'behind'}`;
}

/** What is wrong with a node, in words; here: the node that serves this page. */
function troubles(node, here) {
  const wrong = [];
  if (node.name === whole && !node.online) return wrong;
  if (!node.process) wrong.push(`${called(node)} has not been seen yet`);
  else if (!node.online) wrong.push(`${node.name} is gone`);
  if (!node.online) return wrong;
  if (node.rig !== here.rig) wrong.push(`${called(node)} has another rig file`);
  if (node.begun_ms !== here.begun_ms) wrong.push(`${called(node)} is not in this run`);
  else if (node.show !== here.show) wrong.push(`${called(node)} has another show`);
  else if (node.files !== here.files) wrong.push(`${called(node)} has other drawings, pictures or tables than this one`);
  if (isApart(node)) wrong.push(`the clock of ${called(node)} is ${apart(node)}`);
  return wrong;
}

/** Those whose clocks nothing sets, in one sentence. */
function freeClocks(nodes) {
  const free = nodes.filter(node => node.online && node.clock === 'free').map(called);
  const which = free.length > 5 ? `${free.length} nodes` : free.join(', ');
  if (free.length === 0) return [];
  return [`the clock${free.length === 1 ? '' : 's'} of ${which} follow${free.length === 1 ? 's' : ''} no other: let NTP or PTP set ${free.length === 1 ? 'it' : 'them'}`];
}

function show(list) {
  const here = list.nodes.find(node => node.name === list.node) ?? {};
  const all = list.broker ? [] : ['the broker cannot be reached; each node goes on by itself'];
  const rows = [];
  for (const node of list.nodes.sort((a, b) => a.name.localeCompare(b.name, undefined, {numeric: true}))) {
    all.push(...troubles(node, here));
    const row = document.createElement('tr');
    const name = document.createElement('th');
    name.scope = 'row';
    name.textContent = called(node) + (node === here ? ' (this one)' : '');
    row.append(name,
      cell('Now', node.online ? 'plays' : node.process ? 'gone' : 'not seen', node.online ? '' : 'bad'),
      cell('Clock', clocks[node.clock] ?? '', node.clock === 'good' ? '' : 'warn'),
      cell('Apart', node === here || node.behind_ms === undefined ? '' : apart(node),
        isApart(node) ? 'bad' : ''),
      cell('Late frames', node.late === undefined ? '' : `${node.late} of ${node.frames + node.late}`,
        node.late > node.frames / 100 ? 'warn' : ''),
      cell('Rig', (node.rig ?? '').slice(0, 4), node.online && node.rig !== here.rig ? 'bad' : ''),
      cell('Show', (node.show ?? '').slice(0, 4), node.online && node.show !== here.show ? 'bad' : ''),
      cell('Files', node.files === none ? 'none' : (node.files ?? '').slice(0, 4),
        node.online && node.files !== here.files ? 'bad' : ''));
    rows.push(row);
  }
  all.push(...freeClocks(list.nodes));
  const own = list.nodes.filter(node => node.name !== whole), plays = own.filter(node => node.online).length;
  $('verdict').textContent = `${plays} of ${own.length} node${own.length === 1 ? '' : 's'} play${plays === 1 ? 's' : ''}`;
  $('troubles').replaceChildren(...all.slice(0, 20).map(text => {
    const li = document.createElement('li');
    li.textContent = text;
    return li;
  }));
  $('nodes').tBodies[0].replaceChildren(...rows);
}

async function ask() {
  try {
    const answer = await fetch('/nodes');
    const list = await answer.json();
    if (!answer.ok) throw new Error(list.wrong);
    show(list);
    $('link').textContent = '';
    $('link').classList.remove('lost');
  } catch (wrong) {
    $('link').textContent = wrong instanceof TypeError ? 'Not connected' : wrong.message;
    $('link').classList.add('lost');
  }
  setTimeout(ask, 1000);
}

ask();
