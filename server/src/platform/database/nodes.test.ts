import { createServer, connect, type AddressInfo, type Server, type Socket } from 'node:net';
import { install, testKeys, type Installation } from '../../../testing/installation';
import { openDatabase, type Database } from './database';
import { Nodes } from './nodes';

/** An address that leads to the database and can be cut, silent, or gone, as a node of a cluster can. */
class Door {
  private readonly sockets = new Set<Socket>();
  private readonly server: Server;
  /** How many connections were opened here. */
  opened = 0;
  /** Takes what is sent, and passes nothing on. */
  isSilent = false;
  /** Looks at what a client sends; false ends the connection with what it sends unheard. */
  hears: (text: string) => boolean = () => true;

  private constructor(
    private readonly to: { host: string; port: number } | null,
    private at = 0,
  ) {
    this.server = createServer((from) => {
      this.opened += 1;
      this.keep(from);
      if (this.to === null) return;
      const onward = connect(this.to);
      this.keep(onward);
      from.on('data', (chunk) => {
        if (!this.hears(String(chunk))) from.destroy();
        else if (!this.isSilent) onward.write(chunk);
      });
      onward.on('data', (chunk) => from.write(chunk));
      from.on('close', () => onward.destroy());
      onward.on('close', () => from.destroy());
    });
  }

  /** @param url the database it leads to; null for one that takes connections and never says a word */
  static async to(url: string | null): Promise<Door> {
    const address = url === null ? null : new URL(url);
    const door = new Door(address && { host: address.hostname, port: Number(address.port) });
    await door.listen();
    return door;
  }

  private keep(socket: Socket): void {
    this.sockets.add(socket);
    socket.on('error', () => undefined);
    socket.on('close', () => this.sockets.delete(socket));
  }

  async listen(): Promise<void> {
    await new Promise<void>((resolve) => this.server.listen(this.at, '127.0.0.1', resolve));
    this.at = (this.server.address() as AddressInfo).port;
  }

  get host(): string {
    return `127.0.0.1:${this.at}`;
  }

  /** Connections end, and none is taken any more. */
  async shut(): Promise<void> {
    const closed = new Promise((resolve) => this.server.close(resolve));
    for (const socket of this.sockets) socket.destroy();
    await closed;
  }
}

let installation: Installation;
let doors: Door[];
let database: Database | undefined;
beforeEach(async () => {
  installation = await install();
  doors = [];
});
afterEach(async () => {
  await database?.close();
  database = undefined;
  for (const door of doors) await door.shut();
  await installation.close();
});

const open = async (kinds: readonly ('open' | 'silent')[]): Promise<Database> => {
  for (const kind of kinds) doors.push(await Door.to(kind === 'open' ? installation.url : null));
  const url = new URL(installation.url);
  url.host = doors[0]!.host;
  for (const { host } of doors.slice(1)) url.searchParams.append('node', host);
  return (database = openDatabase(url.href, { connections: 2, keys: testKeys }));
};
const one = (db: Database) => db.rows<{ n: number }>('SELECT 1 AS n');
const add = "INSERT INTO setting (name, value) VALUES (:name, '1')";
const stored = async () =>
  (await installation.services.database.rows("SELECT 1 FROM setting WHERE name LIKE 'try-%'")).length;

test('an address names one node or several, with or without their ports', () => {
  expect(new Nodes('mysql://a:b@10.0.0.1:3310/kettle').isCluster).toBe(false);
  const nodes = new Nodes('mariadb://a:b@10.0.0.1/kettle?node=10.0.0.2&node=[::1]:3311');
  expect(nodes.count).toBe(3);
  expect(nodes.uri).toBe('mysql://a:b@10.0.0.1/kettle');
});

test('the first node is used while it answers', async () => {
  const db = await open(['open', 'open']);
  await Promise.all([one(db), one(db), db.together((each) => each.rows('SELECT 2'))]);
  expect(doors.map(({ opened }) => opened > 0)).toEqual([true, false]);
});

test('one that goes is left for the next, and nobody who reads hears of it', async () => {
  const db = await open(['open', 'open']);
  await one(db);
  await doors[0]!.shut();
  expect(await one(db)).toEqual([{ n: 1 }]);
  expect(await db.together((each) => each.rows('SELECT 2 AS n'))).toEqual([{ n: 2 }]);
  expect(doors[1]!.opened).toBeGreaterThan(0);
});

test('a transaction whose node goes before its end is done again at the next, once', async () => {
  const db = await open(['open', 'open']);
  let runs = 0;
  await db.transaction(async (tx) => {
    runs += 1;
    await tx.change(add, { name: 'try-1' });
    if (runs === 1) await doors[0]!.shut();
    await tx.change(add, { name: 'try-1b' });
  });
  expect(runs).toBe(2);
  expect(await stored()).toBe(2);
});

test('one whose node goes with the commit on its way is not done again: nobody knows whether it is done', async () => {
  const db = await open(['open', 'open']);
  doors[0]!.hears = (text) => !text.includes('COMMIT;');
  let runs = 0;
  const asked = db.transaction(async (tx) => {
    runs += 1;
    await tx.change(add, { name: 'try-2' });
  });
  await expect(asked).rejects.toMatchObject({ code: 'database-away' });
  expect(runs).toBe(1);
});

test('a change by itself is not sent twice either', async () => {
  const db = await open(['open', 'open']);
  doors[0]!.hears = (text) => !text.includes('INSERT');
  await expect(db.change(add, { name: 'try-3' })).rejects.toMatchObject({ code: 'database-away' });
  expect(await stored()).toBe(0);
  doors[0]!.hears = () => true;
  await db.change(add, { name: 'try-3' });
  expect(await stored()).toBe(1);
});

test('a node that has lost the others is left, with every connection to it', async () => {
  const db = await open(['open', 'open']);
  await one(db);
  // What such a node answers, as the database says it.
  await installation.services.database.change(
    "CREATE OR REPLACE PROCEDURE alone() SIGNAL SQLSTATE '08S01' SET MYSQL_ERRNO = 1047, MESSAGE_TEXT = 'WSREP has not yet prepared node for application use'",
  );
  await expect(db.change('CALL alone()')).rejects.toMatchObject({ code: 'database-away' });
  const before = doors[1]!.opened;
  await one(db);
  expect(doors[1]!.opened).toBeGreaterThan(before);
});

test('with one node, whoever asks is told at once that it is away', async () => {
  const db = await open(['open']);
  await one(db);
  await doors[0]!.shut();
  const started = performance.now();
  await expect(one(db)).rejects.toMatchObject({ code: 'database-away' });
  expect(performance.now() - started).toBeLessThan(2000);
});

test('when none of them answers, that is said too', async () => {
  const db = await open(['open', 'open']);
  await one(db);
  for (const door of doors) await door.shut();
  await expect(one(db)).rejects.toMatchObject({ code: 'database-away' });
});

test('one that takes connections and says nothing is left after five seconds', async () => {
  const db = await open(['silent', 'open']);
  expect(await one(db)).toEqual([{ n: 1 }]);
});

test('one that falls silent is left too, and what waited for it goes on elsewhere', async () => {
  const db = await open(['open', 'open']);
  await one(db);
  await new Promise((resolve) => setTimeout(resolve, 1500));
  doors[0]!.isSilent = true;
  expect(await one(db)).toEqual([{ n: 1 }]);
});
