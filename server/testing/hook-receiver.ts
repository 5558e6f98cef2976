import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { HookMessage } from '@kettle/contract';
import { Webhook } from 'standardwebhooks';

export interface Received {
  readonly path: string;
  readonly id: string;
  readonly message: HookMessage;
}

/** Somebody outside who is told things: keeps what is signed as agreed, and answers as the test says. */
export async function aHookReceiver() {
  const received: Received[] = [];
  const refused: string[] = [];
  const state = { status: 204, secret: '', location: '' };
  const server = createServer((request, response) => {
    let body = '';
    request.on('data', (part: Buffer) => (body += part.toString('utf8')));
    request.on('end', () => {
      if (state.secret !== '') {
        try {
          const message = new Webhook(state.secret).verify(body, request.headers as never) as HookMessage;
          received.push({ path: request.url ?? '', id: String(request.headers['webhook-id']), message });
        } catch (error) {
          refused.push((error as Error).message);
        }
      }
      response.writeHead(state.status, state.location === '' ? {} : { Location: state.location }).end();
    });
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const host = `127.0.0.1:${(server.address() as AddressInfo).port}`;
  return {
    host,
    url: `http://${host}/told`,
    state,
    received,
    refused,
    types: () => received.map(({ message }) => message.type),
    forget: () => {
      received.length = 0;
      refused.length = 0;
    },
    close: async () => {
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
    },
  };
}
