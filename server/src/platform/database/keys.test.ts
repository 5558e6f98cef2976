import { chmodSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { createCipheriv, randomBytes } from 'node:crypto';
import { install, testKeys, type Installation } from '../../../testing/installation';
import { sealSecondFactors } from '../../records/users/index';
import { bytesOf } from '../ids';
import { openDatabase, type Database } from './database';
import { isSealed, Keys, readKeyFile } from './keys';
import { readSecret, sealSecrets } from './secret';

const keyOf = (id: string, byte: number) => ({ id, bytes: Buffer.alloc(32, byte) });
const place = 'second_factor:1:secret';

describe('what is sealed', () => {
  const keys = new Keys([keyOf('new', 1), keyOf('old', 2)]);

  test('opens in its place alone', () => {
    const sealed = keys.seal(place, Buffer.from('copper'));
    expect(sealed.toString()).toMatch(/^v1\.new\./);
    expect(keys.open(place, sealed).toString()).toBe('copper');
    expect(() => keys.open('second_factor:2:secret', sealed)).toThrow();
  });

  test('is never twice the same, and not readable', () => {
    const [one, two] = [keys.seal(place, Buffer.from('copper')), keys.seal(place, Buffer.from('copper'))];
    expect(one).not.toEqual(two);
    expect(Buffer.from(one.toString().split('.')[2]!, 'base64url').includes('copper')).toBe(false);
  });

  test('with any letter changed does not open', () => {
    const sealed = keys.seal(place, Buffer.from('copper')).toString();
    const body = sealed.slice('v1.new.'.length);
    for (let at = 0; at < body.length; at += 1) {
      const other = body[at] === 'A' ? 'Q' : 'A';
      const changed = `v1.new.${body.slice(0, at)}${other}${body.slice(at + 1)}`;
      expect(() => keys.open(place, Buffer.from(changed))).toThrow();
    }
  });

  test('opens with every key of the file, and names one that is missing', () => {
    const sealed = new Keys([keyOf('old', 2)]).seal(place, Buffer.from('copper'));
    expect(keys.open(place, sealed).toString()).toBe('copper');
    expect([keys.isFresh(sealed), keys.isFresh(keys.seal(place, sealed))]).toEqual([false, true]);
    expect(() => new Keys([keyOf('new', 1)]).open(place, sealed)).toThrow('the key old, which is not');
  });

  test('a tag that was cut short is refused', () => {
    const [, , body] = keys.seal(place, Buffer.from('copper')).toString().split('.');
    const short = Buffer.from(body!, 'base64url').subarray(0, 16).toString('base64url');
    expect(() => keys.open(place, Buffer.from(`v1.new.${short}`))).toThrow();
  });
});

describe('the key file', () => {
  const folder = mkdtempSync(path.join(tmpdir(), 'kettle-keys-'));
  const file = path.join(folder, 'inside', 'keys');
  afterAll(() => rmSync(folder, { recursive: true }));

  test('is written once, for its owner alone', () => {
    const sealed = readKeyFile(file).seal(place, Buffer.from('copper'));
    expect(statSync(file).mode & 0o777).toBe(0o600);
    expect(readKeyFile(file).open(place, sealed).toString()).toBe('copper');
  });

  test('that others can read is refused', () => {
    chmodSync(file, 0o640);
    expect(() => readKeyFile(file)).toThrow(`chmod 600 ${file}`);
    chmodSync(file, 0o600);
  });

  test.each([
    ['', 'holds no key'],
    ['a:c2hvcnQ=\n', 'Key 1 of'],
    [`a:${Buffer.alloc(32).toString('base64')}\nnonsense\n`, 'Key 2 of'],
  ])('%j is refused in words', (text, words) => {
    const before = readFileSync(file);
    writeFileSync(file, text);
    expect(() => readKeyFile(file)).toThrow(words);
    writeFileSync(file, before);
  });
});

describe('the database', () => {
  let installation: Installation;
  let later: Database;
  beforeAll(async () => {
    installation = await install();
    later = openDatabase(installation.url, { keys: new Keys([keyOf('next', 9)]) });
  });
  afterAll(async () => {
    await later.close();
    await installation.close();
  });

  const stored = async (table: 'secret' | 'second_factor', column: string) =>
    (
      await installation.services.database.rows<{ value: Buffer }>(`SELECT ${column} AS value FROM ${table}`)
    ).map(({ value }) => value);

  test('holds no key that opens anything', async () => {
    const { database } = installation.services;
    const key = await readSecret(database, 'links');
    expect(await readSecret(database, 'links')).toEqual(key);
    for (const value of await stored('secret', 'value')) {
      expect(isSealed(value)).toBe(true);
      expect(value.includes(key)).toBe(false);
    }
  });

  test('what an older version left is sealed at the next start, and stays what it was', async () => {
    const { database } = installation.services;
    const rep = await installation.as('rep');
    const [key, secret, link] = [randomBytes(32), randomBytes(20), randomBytes(32)];
    const nonce = randomBytes(12);
    const cipher = createCipheriv('aes-256-gcm', key, nonce);
    const text = Buffer.concat([cipher.update(secret), cipher.final()]);
    const old = Buffer.concat([nonce, cipher.getAuthTag(), text]);
    await database.change('INSERT INTO secret (name, value) VALUES :rows', {
      rows: [
        ['second-factor', key],
        ['forms', link],
      ],
    });
    await database.change('INSERT INTO second_factor (user_id, secret) VALUES (:user, :old)', {
      ...{ user: bytesOf(rep.id), old },
    });
    await sealSecrets(database);
    await sealSecondFactors(database);
    const [now] = await stored('second_factor', 'secret');
    expect(testKeys.open(`second_factor:${rep.id}:secret`, now!)).toEqual(secret);
    expect(await readSecret(database, 'forms')).toEqual(link);
    expect((await stored('secret', 'value')).every(isSealed)).toBe(true);
    const names = await database.rows<{ name: string }>('SELECT name FROM secret');
    expect(names.map(({ name }) => name)).not.toContain('second-factor');
  });

  test('another key: all is sealed anew while the old one is there, and nothing starts without it', async () => {
    await expect(sealSecrets(later)).rejects.toThrow('the key test, which is not in the key file');
    await expect(sealSecondFactors(later)).rejects.toThrow('the key test, which is not in the key file');
    const both = openDatabase(installation.url, {
      keys: new Keys([keyOf('next', 9), { id: 'test', bytes: Buffer.alloc(32, 7) }]),
    });
    const key = await readSecret(both, 'links');
    await sealSecrets(both);
    await sealSecondFactors(both);
    await both.close();
    await sealSecrets(later);
    expect(await readSecret(later, 'links')).toEqual(key);
  });
});

describe('a mark', () => {
  const [first, second] = [1, 2].map((byte) => ({ id: `k${byte}`, bytes: Buffer.alloc(32, byte) }));

  test('knows a value again, also after another key has come in front, and differs by place and value', () => {
    const before = new Keys([first!]);
    const after = new Keys([second!, first!]);
    const [mark] = before.marks('here', 'maud@penrow.example');
    expect(after.marks('here', 'maud@penrow.example').map((each) => each.equals(mark))).toEqual([
      false,
      true,
    ]);
    expect(before.marks('there', 'maud@penrow.example')[0].equals(mark)).toBe(false);
    expect(before.marks('here', 'theo@penrow.example')[0].equals(mark)).toBe(false);
    expect(mark).toHaveLength(32);
  });
});
