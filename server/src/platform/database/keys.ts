import { createCipheriv, createDecipheriv, createHmac, randomBytes } from 'node:crypto';
import { closeSync, existsSync, mkdirSync, openSync, readFileSync, statSync, writeSync } from 'node:fs';
import path from 'node:path';

/** AES-256-GCM (NIST SP 800-38D): a nonce of 96 bits, a tag of 128. */
const algorithm = 'aes-256-gcm';
const nonceLength = 12;
const tagLength = 16;
const keyLength = 32;
const form = /^v1\.([a-z0-9-]{1,20})\.([A-Za-z0-9_-]+)$/;

interface Key {
  readonly id: string;
  readonly bytes: Buffer;
}

/**
 * The keys of this installation, which lie outside its database: the first seals, all of them open.
 * What is sealed is bound to its place, so that a value copied into another row does not open.
 * @example keys.open('secret:links:value', keys.seal('secret:links:value', bytes)) // bytes
 */
export class Keys {
  constructor(private readonly keys: readonly Key[]) {
    if (keys.length === 0) throw new Error('There is no key.');
  }

  /** @param place table, row and column, with colons between */
  seal(place: string, bytes: Uint8Array): Buffer {
    const { id, bytes: key } = this.keys[0]!;
    const nonce = randomBytes(nonceLength);
    const cipher = createCipheriv(algorithm, key, nonce, { authTagLength: tagLength });
    cipher.setAAD(Buffer.from(place));
    const text = Buffer.concat([cipher.update(bytes), cipher.final()]);
    return Buffer.from(`v1.${id}.${Buffer.concat([nonce, cipher.getAuthTag(), text]).toString('base64url')}`);
  }

  /** @throws Error when the key is not there, or the value was changed or belongs elsewhere */
  open(place: string, sealed: Buffer): Buffer {
    const [, id, body] = form.exec(sealed.toString('latin1')) ?? [];
    if (id === undefined || body === undefined) throw new Error(`What lies at ${place} is not sealed.`);
    const key = this.keys.find((each) => each.id === id);
    if (!key)
      throw new Error(`What lies at ${place} was sealed with the key ${id}, which is not in the key file.`);
    const bytes = Buffer.from(body, 'base64url');
    const decipher = createDecipheriv(algorithm, key.bytes, bytes.subarray(0, nonceLength), {
      authTagLength: tagLength,
    });
    decipher.setAAD(Buffer.from(place));
    decipher.setAuthTag(bytes.subarray(nonceLength, nonceLength + tagLength));
    return Buffer.concat([decipher.update(bytes.subarray(nonceLength + tagLength)), decipher.final()]);
  }

  /**
   * A value as a keyed hash (HMAC-SHA-256, RFC 2104), by which it is known again and not read: the first is what is written, one for each key
   * there is what is looked for.
   * @param place what it is kept for, so that equal values of two places differ
   */
  marks(place: string, value: string): [Buffer, ...Buffer[]] {
    const mark = ({ bytes }: Key) => createHmac('sha256', bytes).update(`${place}\0${value}`).digest();
    const [first, ...older] = this.keys;
    return [mark(first!), ...older.map(mark)];
  }

  /** Whether a value was sealed with the key that seals now. */
  isFresh(sealed: Buffer): boolean {
    return sealed.toString('latin1').startsWith(`v1.${this.keys[0]!.id}.`);
  }
}

export const isSealed = (value: Buffer): boolean => form.test(value.toString('latin1'));

/**
 * Reads the key file: `name:key` on each line, the key 32 bytes in base64. One that is not there is written with a new key.
 * @throws Error in one sentence when it cannot be used: others may read it, a line is wrong
 */
export function readKeyFile(file: string): Keys {
  if (!existsSync(file)) writeKeyFile(file);
  if ((statSync(file).mode & 0o077) !== 0)
    throw new Error(`Others can read the key file ${file}. Take that right away: chmod 600 ${file}`);
  const lines = readFileSync(file, 'utf8')
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '' && !line.startsWith('#'));
  if (lines.length === 0) throw new Error(`The key file ${file} holds no key. Put the lost one back.`);
  return new Keys(
    lines.map((line, index) => {
      const [, id, text] = /^([a-z0-9-]{1,20}):([A-Za-z0-9+/]+={0,2})$/.exec(line) ?? [];
      const bytes = Buffer.from(text ?? '', 'base64');
      if (id === undefined || bytes.length !== keyLength)
        throw new Error(`Key ${index + 1} of ${file} is not NAME:KEY with 32 bytes in base64.`);
      return { id, bytes };
    }),
  );
}

/** Servers that start together make one: whoever comes second reads the first one's. */
function writeKeyFile(file: string): void {
  mkdirSync(path.dirname(file), { recursive: true });
  const id = randomBytes(4).toString('hex');
  const line = `${id}:${randomBytes(keyLength).toString('base64')}\n`;
  let opened: number;
  try {
    opened = openSync(file, 'wx', 0o600);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EEXIST') return;
    throw new Error(`The key file ${file} cannot be written: ${(error as Error).message}`, { cause: error });
  }
  writeSync(opened, line);
  closeSync(opened);
}
