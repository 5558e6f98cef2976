import { generateKeyPairSync } from 'node:crypto';
import { judgeProof } from '@kettle/core/mail';
import MailComposer from 'nodemailer/lib/mail-composer';
import DkimSigner from 'nodemailer/lib/dkim';
import { checkMail, patiently } from './check-mail';

/** A firm whose mail goes out from one address, signed. */
const keys = generateKeyPairSync('rsa', {
  modulusLength: 2048,
  publicKeyEncoding: { type: 'spki', format: 'pem' },
  privateKeyEncoding: { type: 'pkcs8', format: 'pem' },
});
const published = keys.publicKey.replace(/-----[^-]+-----|\s/g, '');
const names: Record<string, string[][]> = {
  'penrow.example TXT': [['v=spf1 ip4:192.0.2.7 -all']],
  '_dmarc.penrow.example TXT': [['v=DMARC1; p=reject']],
  'post._domainkey.penrow.example TXT': [[`v=DKIM1; k=rsa; p=${published}`]],
  'plain.example TXT': [['v=spf1 ip4:192.0.2.8 -all']],
};
const resolver = async (name: string, type: string) => {
  const found = names[`${name} ${type}`];
  if (!found) throw Object.assign(new Error('not found'), { code: 'ENOTFOUND' });
  return found;
};
const noNames = async () => {
  throw Object.assign(new Error('no name server'), { code: 'ESERVFAIL' });
};

const compose = (from: string) =>
  new MailComposer({ from, to: 'rep@hollinbeck.example', subject: 'Water', text: 'Yes, call me.' })
    .compile()
    .build();

const sign = (content: Buffer) =>
  new Promise<Buffer>((resolve, reject) => {
    const signer = new DkimSigner({
      domainName: 'penrow.example',
      keySelector: 'post',
      privateKey: keys.privateKey,
    });
    const parts: Buffer[] = [];
    signer
      .sign(content)
      .on('data', (part: Buffer) => parts.push(part))
      .on('end', () => resolve(Buffer.concat(parts)))
      .on('error', reject);
  });

const from = 'maud@penrow.example';
const judged = async (
  content: Buffer,
  part: { remoteAddress?: string; envelopeFrom?: string } = {},
  names_ = resolver,
) => {
  const mail = { remoteAddress: '203.0.113.1', envelopeFrom: from, helo: 'post.example', content, ...part };
  return judgeProof(from, await checkMail(mail, names_));
};

describe('a mail handed to us', () => {
  test('from the firm’s own server is proven', async () => {
    expect(await judged(await compose(from), { remoteAddress: '192.0.2.7' })).toMatchObject({
      proof: 'proven',
      words: expect.stringContaining('SPF pass (penrow.example)') as string,
    });
  });
  test('signed, and passed on by somebody else, is proven too', async () => {
    const content = await sign(await compose(from));
    expect(await judged(content, { envelopeFrom: 'list@elsewhere.example' })).toMatchObject({
      proof: 'proven',
    });
  });
  test('forged is contradicted', async () => {
    expect(await judged(await compose(from))).toMatchObject({ proof: 'contradicted' });
  });
  test('signed and then changed is contradicted', async () => {
    const content = await sign(await compose(from));
    const changed = Buffer.from(content.toString().replace('call me', 'pay me'));
    expect(await judged(changed)).toMatchObject({ proof: 'contradicted' });
  });
  test('proves nothing when no name can be looked up', async () => {
    expect(await judged(await sign(await compose(from)), {}, noNames)).toMatchObject({ proof: 'unproven' });
  });
  test('with two writers is not proven', async () => {
    const content = Buffer.concat([Buffer.from('From: a@plain.example\r\n'), await compose(from)]);
    expect(
      (await judged(content, { remoteAddress: '192.0.2.8', envelopeFrom: 'a@plain.example' })).proof,
    ).not.toBe('proven');
  });
  test('whose signature covers only its beginning is not proven', async () => {
    const { dkimSign } = jest.requireActual<{ dkimSign: typeof import('mailauth/lib/dkim/sign').dkimSign }>(
      'mailauth/lib/dkim/sign',
    );
    const content = await compose(from);
    const { signatures } = await dkimSign(content, {
      canonicalization: 'relaxed/relaxed',
      algorithm: 'rsa-sha256',
      signTime: new Date(),
      signatureData: [
        {
          signingDomain: 'penrow.example',
          selector: 'post',
          privateKey: keys.privateKey,
          maxBodyLength: 5,
        },
      ],
    } as Parameters<typeof dkimSign>[1]);
    const longer = Buffer.concat([Buffer.from(signatures), content, Buffer.from('And send money.\r\n')]);
    expect((await judged(longer)).proof).not.toBe('proven');
  });
});

describe('a name server that cannot answer just now', () => {
  const failure = (code: string) => Object.assign(new Error(code), { code });

  test('is asked twice more', async () => {
    const answers = [failure('ESERVFAIL'), failure('ETIMEOUT'), 'v=spf1 -all'];
    const ask = async () => {
      const answer = answers.shift();
      if (answer instanceof Error) throw answer;
      return answer;
    };
    expect(await patiently(ask, [0, 0])).toBe('v=spf1 -all');
  });

  test('that still cannot is believed; that there is no such name is an answer at once', async () => {
    let asked = 0;
    const ask = (code: string) => async () => {
      asked += 1;
      throw failure(code);
    };
    await expect(patiently(ask('ESERVFAIL'), [0, 0])).rejects.toThrow('ESERVFAIL');
    expect(asked).toBe(3);
    await expect(patiently(ask('ENOTFOUND'), [0, 0])).rejects.toThrow('ENOTFOUND');
    expect(asked).toBe(4);
  });
});
