// Three databases that hold the same, on this machine: what an installation runs over that must go on when one of them dies. Each has its
// own folder, ports and socket. How it is done on several machines: docs/operating.md.
import { spawnSync } from 'node:child_process';
import { cpSync, existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import {
  checkRoom,
  fast,
  freePort,
  install,
  makeUser,
  memoryFolder,
  memoryFolderOf,
  optionsOf,
  passwordIn,
  run,
  safe,
  socketOf,
  stop,
} from './database.mjs';
import { dataFolder, ensureFolder, findProgram, giveUp } from './machine.mjs';
import { endOf } from './supervise.mjs';

const provider = findProgram('libgalera_smm.so');
/** A node that is silent for so long is out; the usual 5 s are made for networks between cities. */
const patience =
  'evs.keepalive_period=PT0.3S;evs.inactive_check_period=PT0.3S;evs.suspect_timeout=PT1.5S;evs.inactive_timeout=PT3S';
/** What a node may miss and still be told, instead of being copied whole. */
const kept = 'gcache.size=256M';

/**
 * Starts the cluster `name` (a folder for each node below .data/NAME) and answers with its nodes.
 * With `isForTests` it gives durability for speed, and begins with nothing.
 */
export async function startCluster(name, { count = 3, isForTests = false, options = [] } = {}) {
  const folder = isForTests ? memoryFolderOf(name) : path.join(dataFolder, name);
  if (isForTests) rmSync(folder, { recursive: true, force: true });
  ensureFolder(folder);
  checkRoom(folder);
  const password = passwordIn(folder);
  const nodes = [];
  for (let n = 1; n <= count; n += 1) {
    const own = path.join(folder, `node${n}`);
    ensureFolder(own);
    const [port, group, transfer] = [await freePort(), await freePort(), await freePort()];
    nodes.push({
      name: `node${n}`,
      files: path.join(own, 'mysql'),
      socket: socketOf(own),
      port,
      group,
      transfer,
    });
  }
  const mode = [...(isForTests ? fast : safe), ...options];
  const modeOf = (node) => [
    ...mode,
    '--binlog-format=ROW',
    '--innodb-autoinc-lock-mode=2',
    // The capture of what people change is made by triggers, which the application's own user makes.
    '--log-bin-trust-function-creators=ON',
    '--wsrep-on=ON',
    '--wsrep-sst-method=local',
    `--wsrep-provider=${provider}`,
    `--wsrep-cluster-name=${name}`,
    `--wsrep-cluster-address=gcomm://${nodes.map(({ group }) => `127.0.0.1:${group}`).join(',')}`,
    `--wsrep-node-name=${node.name}`,
    `--wsrep-node-address=127.0.0.1:${node.group}`,
    `--wsrep-provider-options=gmcast.listen_addr=tcp://127.0.0.1:${node.group};ist.recv_addr=127.0.0.1:${node.transfer};${kept};${patience}`,
  ];
  // Where it finds our way of giving the state to one that joins.
  const env = { ...process.env, PATH: `${path.join(import.meta.dirname, 'cluster')}:${process.env.PATH}` };
  const start = (node, more = []) => run(node.files, node.socket, node.port, [...modeOf(node), ...more], env);
  /** Where it goes on; one whose files are gone is given them by another. */
  const from = (node) => {
    ensureFolder(node.files);
    if (!existsSync(path.join(node.files, 'mysql'))) return [];
    const { group, number } = positionOf(node, modeOf(node));
    return [`--wsrep-start-position=${group}:${number}`];
  };
  const found = ['--wsrep-new-cluster', '--wsrep-cluster-address=gcomm://'];

  const [first] = nodes;
  if (!existsSync(path.join(first.files, 'mysql'))) {
    install(first.files);
    mayFound(first);
    const child = await start(first, found);
    makeUser(first.socket, password);
    await stop(child);
  }
  const newest = nodes
    .filter(({ files }) => existsSync(path.join(files, 'mysql')))
    .map((node) => ({ node, at: positionOf(node, modeOf(node)) }))
    .reduce((best, each) => (each.at.number > best.at.number ? each : best));
  for (const node of nodes) if (node !== newest.node) copyOf(newest.node, node);
  mayFound(newest.node);
  const children = new Map([[newest.node, await start(newest.node, [...found, ...from(newest.node)])]]);
  for (const node of nodes) if (node !== newest.node) children.set(node, await start(node, from(node)));

  const user = `kettle:${password}`;
  /** The address of the whole, for a server that works with node `n` (from 0) and turns to the others when that one is away. */
  const urlFrom = (n, schema = 'kettle') => {
    const [own, ...others] = nodes.map((_, k) => `127.0.0.1:${nodes[(n + k) % count].port}`);
    return `mysql://${user}@${own}/${schema}?${others.map((other) => `node=${other}`).join('&')}`;
  };
  return {
    urlFrom,
    nodes: nodes.map((node) => ({
      name: node.name,
      socket: node.socket,
      /** The address of this node alone. */
      url: `mysql://${user}@127.0.0.1:${node.port}/kettle`,
      ended: () => endOf(children.get(node)),
      kill: () => children.get(node).kill('SIGKILL'),
      signal: (signal) => children.get(node).kill(signal),
      /** Starts it again after it ended; what it missed it is told by another. */
      restart: async () => {
        children.set(node, await start(node, from(node)));
      },
    })),
    stop: async () => {
      // The one that ends last knows all: the next start begins with it.
      for (const node of nodes) await stop(children.get(node));
      if (folder.startsWith(memoryFolder)) rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** How far a node that does not run has come: `{ group, number }`. A node that was killed has not written it down; it is in its tables. */
function positionOf(node, mode) {
  const done = spawnSync(
    findProgram('mariadbd'),
    [...optionsOf(node.files, node.socket, node.port, mode), '--wsrep-recover'],
    { encoding: 'utf8' },
  );
  const said = /Recovered position: ([0-9a-f-]{36}):(-?\d+)/.exec(done.stderr);
  if (said === null)
    return giveUp(`${node.name} does not say how far it is: ${done.stderr.trim().split('\n').at(-1)}`);
  return { group: said[1], number: Number(said[2]) };
}

/** Only a node that is marked so may begin a group that has nobody yet. */
function mayFound({ files }) {
  const file = path.join(files, 'grastate.dat');
  if (existsSync(file))
    writeFileSync(file, readFileSync(file, 'utf8').replace(/safe_to_bootstrap: \d/, 'safe_to_bootstrap: 1'));
}

/** The files of one that stands still, for one that is new or behind. */
function copyOf({ files }, to) {
  rmSync(to.files, { recursive: true, force: true });
  cpSync(files, to.files, { recursive: true, preserveTimestamps: true });
  // Who it was in the last group, and what it kept for others, are the first one's.
  for (const name of ['gvwstate.dat', 'galera.cache', 'kettle.pid'])
    rmSync(path.join(to.files, name), { force: true });
}
