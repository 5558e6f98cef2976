import * as z from 'zod';
import { postTo } from './gateway';

export interface TextGateway {
  /**
   * Hands a text over; with the same key again it is the same text. Answers with the gateway's own id.
   * @throws GatewayRefusal, or Error when the gateway cannot be reached
   */
  send(text: { readonly key: string; readonly to: string; readonly body: string }): Promise<string>;
}

const reply = z.object({ id: z.string().min(1).max(80) });

export function httpTextGateway(url: string): TextGateway {
  return {
    send: async ({ key, to, body }) =>
      reply.parse(await postTo(`${url}/messages`, { to, body }, { 'Idempotency-Key': key })).id,
  };
}
