import type { Queryable } from './database';
import { install, type Installation } from '../../../testing/installation';

let installation: Installation;
beforeEach(async () => {
  installation = await install();
});
afterEach(() => installation.close());

const add = 'INSERT INTO setting (name, value) VALUES (:name, :value)';
const names = async () =>
  (
    await installation.services.database.rows<{ name: string }>(
      "SELECT name FROM setting WHERE name LIKE 'try-%' ORDER BY name",
    )
  ).map(({ name }) => name);

describe('what is read together', () => {
  const together = <Result>(read: (db: Queryable) => Promise<Result>) =>
    installation.services.database.together(read);
  const one = (db: Queryable, value: string) =>
    db.rows<{ value: string }>('SELECT :value AS value', { value });

  test('goes one after the other on one connection, each answer to who asked', async () => {
    const ids = await together((db) =>
      Promise.all([db.rows('SELECT @together := CONNECTION_ID() AS id'), db.rows('SELECT @together AS id')]),
    );
    expect(ids[1]).toEqual(ids[0]);
    const found = await together(async (db) => {
      const both = await Promise.all([one(db, 'a;b'), one(db, "'; DROP TABLE setting; --")]);
      return [...both, await one(db, 'c')].map(([row]) => row?.value);
    });
    expect(found).toEqual(['a;b', "'; DROP TABLE setting; --", 'c']);
  });

  test('fails for everybody when one fails, and the next reading is none the worse', async () => {
    const failed = together((db) =>
      Promise.allSettled([one(db, 'a'), db.rows('SELECT nothing FROM nowhere')]),
    );
    expect((await failed).map(({ status }) => status)).toEqual(['rejected', 'rejected']);
    expect(await together((db) => one(db, 'b'))).toEqual([{ value: 'b' }]);
  });

  test('can write nothing, whatever the statement', async () => {
    const write = "SELECT 1; INSERT INTO setting (name, value) VALUES ('try-x', '1')";
    await expect(together((db) => db.rows(write))).rejects.toMatchObject({ errno: 1792 });
    await expect(together((db) => db.change('DELETE FROM setting'))).rejects.toThrow('Nothing is written');
    expect(await names()).toEqual([]);
  });
});

describe('a change that nothing waits for', () => {
  test('is there for the next statement, in the order in which it was asked', async () => {
    const { database } = installation.services;
    const seen = await database.transaction(async (tx) => {
      await tx.later(add, { name: 'try-1', value: '1' });
      await tx.later('UPDATE setting SET value = :value WHERE name = :name', { name: 'try-1', value: '2' });
      const changed = await tx.change('UPDATE setting SET value = :value WHERE name = :name', {
        name: 'try-1',
        value: '3',
      });
      await tx.later(add, { name: 'try-2', value: '"; DELETE FROM setting; --"' });
      const rows = await tx.rows<{ value: string }>(
        "SELECT value FROM setting WHERE name LIKE 'try-%' ORDER BY name",
      );
      return { changed, values: rows.map(({ value }) => value) };
    });
    expect(seen).toEqual({ changed: 1, values: ['3', '"; DELETE FROM setting; --"'] });
  });

  test('is kept when it is the last', async () => {
    await installation.services.database.transaction((tx) => tx.later(add, { name: 'try-1', value: '1' }));
    expect(await names()).toEqual(['try-1']);
  });

  test('makes the next statement fail when it fails, and nothing is kept', async () => {
    const run = installation.services.database.transaction(async (tx) => {
      await tx.change(add, { name: 'try-1', value: '1' });
      await tx.later(add, { name: 'try-1', value: '2' });
      await tx.rows('SELECT 1');
    });
    await expect(run).rejects.toMatchObject({ errno: 1062 });
    expect(await names()).toEqual([]);
  });

  test('makes the commit fail when it is the last and fails', async () => {
    const run = installation.services.database.transaction(async (tx) => {
      await tx.change(add, { name: 'try-1', value: '1' });
      await tx.later(add, { name: 'try-1', value: '2' });
    });
    await expect(run).rejects.toMatchObject({ errno: 1062 });
    expect(await names()).toEqual([]);
  });

  test('of any size goes in calls the database takes', async () => {
    const value = `"${'x'.repeat(400_000)}"`;
    await installation.services.database.transaction(async (tx) => {
      for (let n = 10; n < 60; n += 1) await tx.later(add, { name: `try-${n}`, value });
    });
    expect(await names()).toHaveLength(50);
  });
});

test('several statements in one text are refused outside a transaction', async () => {
  const both = installation.services.database.rows('SELECT 1; SELECT 2');
  await expect(both).rejects.toMatchObject({ errno: 1064 });
});

test.each([
  ['a table that may grow no more', 1114],
  ['a disk that is full', 1021],
])('%s is told as no room, not as a fault of ours', async (_, errno) => {
  const { database } = installation.services;
  // The error that the database raises, raised by hand: filling a disk is for the fault tests.
  const full = `BEGIN NOT ATOMIC SIGNAL SQLSTATE 'HY000' SET MYSQL_ERRNO = ${errno}, MESSAGE_TEXT = 'full'; END`;
  await expect(database.change(full)).rejects.toMatchObject({ code: 'database-full', status: 507 });
});
