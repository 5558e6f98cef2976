import { createHmac, randomUUID } from 'node:crypto';
import * as z from 'zod';
import { reactionToCall, reactionToText } from './habits';
import type { Happened } from './happened';
import type { TheirTime } from './their-time';

export interface GatewaySetting {
  readonly seed: string;
  readonly time: TheirTime;
  readonly happened: Happened;
  /** The application's address for what is told to it, and the secret it is signed with. */
  readonly hook: string;
  readonly secret: string;
}

const textRequest = z.object({ to: z.string().min(3), body: z.string().min(1).max(2000) });
const callRequest = z.object({ id: z.uuid(), to: z.string().min(3) });

interface Call {
  isOver: boolean;
  answeredAt: number | null;
  readonly pace: number;
}

/** Seconds of a call in one of ours. */
const callPace = 5;

/** The telephone line and the text gateway, for numbers of people who do what they are used to. */
export class Gateways {
  /** Texts by the key they were handed over with: the same key again is the same text. */
  private readonly texts = new Map<string, string>();
  private readonly calls = new Map<string, Call>();

  private isStopped = false;

  constructor(private readonly setting: GatewaySetting) {}

  /** Nothing more is told from here on. */
  stop(): void {
    this.isStopped = true;
  }

  /** @throws Error with words when the request cannot be understood */
  text(key: string, request: unknown): { id: string } {
    const { to, body } = textRequest.parse(request);
    const known = this.texts.get(key);
    if (known !== undefined) return { id: known };
    const id = `text-${randomUUID()}`;
    this.texts.set(key, id);
    const { seed, time, happened } = this.setting;
    happened.note('text', to, body, key);
    const reaction = reactionToText(seed, to, id);
    time.after(1, () =>
      this.tell(
        reaction.isDelivered
          ? { kind: 'text-delivered', textId: id }
          : { kind: 'text-failed', textId: id, said: 'the number is not in use' },
      ),
    );
    if (reaction.isDelivered && reaction.answer !== null)
      time.after(reaction.afterMinutes, () => {
        happened.note('text answered', to, reaction.answer ?? '');
        this.tell({ kind: 'text-in', from: to, body: reaction.answer });
      });
    return { id };
  }

  /** A call goes at five times the pace of life, whatever the speed of their time: somebody sits at the other end. */
  dial(request: unknown, pace = callPace): void {
    const { id, to } = callRequest.parse(request);
    const { seed, happened } = this.setting;
    const { end, ringSeconds, talkSeconds } = reactionToCall(seed, to, id);
    const call: Call = { isOver: false, answeredAt: null, pace };
    this.calls.set(id, call);
    happened.note('call', to, end, id);
    const later = (seconds: number, act: () => void) =>
      setTimeout(
        () => {
          if (!call.isOver) act();
        },
        (seconds * 1000) / pace,
      ).unref();
    later(1, () => this.tell({ kind: 'call-ringing', callId: id }));
    const hasVoice = talkSeconds > 0;
    if (hasVoice)
      later(ringSeconds, () => {
        call.answeredAt = performance.now();
        this.tell({ kind: 'call-answered', callId: id });
      });
    later(ringSeconds + talkSeconds, () => this.end(id, end, talkSeconds));
  }

  hangUp(id: string): void {
    const { answeredAt, pace } = this.calls.get(id) ?? { answeredAt: null, pace: callPace };
    if (answeredAt === null) this.end(id, 'no-answer', 0);
    else this.end(id, 'answered', Math.round(((performance.now() - answeredAt) / 1000) * pace));
  }

  private end(id: string, result: string, seconds: number): void {
    const call = this.calls.get(id);
    if (!call || call.isOver) return;
    call.isOver = true;
    this.tell({ kind: 'call-ended', callId: id, result, seconds });
  }

  /** Tells the application, and tells it again when it did not listen: the event keeps its id. */
  private tell(event: object, tries = 0): void {
    if (this.isStopped) return;
    const body = JSON.stringify({ id: randomUUID(), ...event });
    const signature = createHmac('sha256', this.setting.secret).update(body).digest('hex');
    const again = () => {
      if (tries < 5)
        setTimeout(() => this.tell(JSON.parse(body) as object, tries + 1), 1000 * 2 ** tries).unref();
    };
    fetch(this.setting.hook, { method: 'POST', body, headers: { 'X-Signature': signature } }).then(
      (reply) => {
        if (reply.status >= 500) again();
      },
      again,
    );
  }
}
