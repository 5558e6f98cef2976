import type { IncomingHttpHeaders } from 'node:http';
import { Webhook } from 'standardwebhooks';
import * as z from 'zod';
import type { Happened } from './happened';

const message = z.object({
  type: z.string(),
  data: z.object({ record: z.string(), id: z.string(), href: z.string().nullable() }),
});

/** Somebody’s program that is told by web hooks what happened: believes what is signed with the secret it was given, each message once. */
export class HookReader {
  private reader: Webhook | null = null;
  private readonly seen = new Set<string>();

  constructor(private readonly happened: Happened) {}

  get hasSecret(): boolean {
    return this.reader !== null;
  }

  /** @throws Error where it is no secret */
  trust(secret: string): void {
    this.reader = new Webhook(secret.trim());
  }

  /** @returns the status it answers with */
  take(body: string, headers: IncomingHttpHeaders): number {
    const id = String(headers['webhook-id'] ?? '');
    if (this.reader === null) {
      this.happened.note('web hook', 'a program', 'refused: it knows no secret yet', id);
      return 401;
    }
    try {
      const { type, data } = message.parse(this.reader.verify(body, headers as Record<string, string>));
      if (this.seen.has(id)) this.happened.note('web hook', 'a program', `${type}: known already`, id);
      else this.happened.note('web hook', 'a program', `${type}: ${data.href ?? data.record}`, id, body);
      this.seen.add(id);
      return 204;
    } catch (error) {
      this.happened.note('web hook', 'a program', `refused: ${(error as Error).message}`, id);
      return 401;
    }
  }
}
