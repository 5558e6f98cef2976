import * as z from 'zod';

/**
 * The error catalogue: HTTP status and the sentence a person reads, with what to do next.
 * `{name}` places are filled from the problem's parameters.
 */
export const problems = {
  'invalid-request': {
    status: 400,
    sentence: $localize`Something in what was sent is not right. Check the marked fields.`,
  },
  'invalid-json': {
    status: 400,
    sentence: $localize`What was sent could not be read. Reload the page and try again.`,
  },
  'unreadable-request': {
    status: 400,
    sentence: $localize`What was sent cannot be read. Reload the page and try again.`,
  },
  'not-signed-in': {
    status: 401,
    sentence: $localize`You are signed out. Sign in and your work goes on where it was.`,
  },
  'wrong-sign-in': {
    status: 401,
    sentence: $localize`That e-mail address and password do not belong together. Check both.`,
  },
  'code-needed': {
    status: 401,
    sentence: $localize`Type the six digits that your authenticator app shows now, or one of your recovery codes.`,
  },
  'wrong-code': {
    status: 401,
    sentence: $localize`This code does not count: it is another’s, too old or was used. Wait for the next one and type that.`,
  },
  'key-not-valid': {
    status: 401,
    sentence: $localize`This API key does not count: it is not known, was withdrawn or is over. Make another under Settings, My API keys.`,
  },
  'key-not-enough': {
    status: 403,
    sentence: $localize`This API key may not do that: it needs “{scope}”. Make one that may under Settings, My API keys.`,
  },
  'key-not-here': {
    status: 403,
    sentence: $localize`No API key may ask for this. Sign in and do it in the browser.`,
  },
  'second-factor-needed': {
    status: 403,
    sentence: $localize`Your role needs a second factor. Set it up under Settings, My account; it takes a minute.`,
  },
  'wrong-password': {
    status: 403,
    sentence: $localize`That is not your password. Type the one you signed in with.`,
  },
  'link-over': {
    status: 410,
    sentence: $localize`This link was used or is too old. Ask for a new one where you sign in, or ask an admin.`,
  },
  'last-admin': {
    status: 409,
    sentence: $localize`Nobody else is an admin. Make somebody else one first.`,
  },
  'hand-over-needed': {
    status: 422,
    sentence: $localize`{name} has {what}. Choose who gets them.`,
  },
  'own-account': { status: 409, sentence: $localize`This is your own account. Ask another admin.` },
  'demo-admin': {
    status: 409,
    sentence: $localize`You are signed in with a demo account. Invite an admin of your own, sign in as them, and remove the demo’s then.`,
  },
  'not-allowed': {
    status: 403,
    sentence: $localize`Your role does not allow this. Ask a manager or an admin.`,
  },
  'needs-release': {
    status: 403,
    sentence: $localize`What goes out by itself is released by a manager. Send your change for release.`,
  },
  'not-yours': {
    status: 403,
    sentence: $localize`This belongs to {owner}. Ask {owner} or a manager to hand it over.`,
  },
  'not-shared': {
    status: 403,
    sentence: $localize`{name} belongs to {owner}, who is not in the team of this deal: the entry cannot count for them. Leave them out, or ask {owner}.`,
  },
  'wrong-host': {
    status: 421,
    sentence: $localize`This server does not go by that name. Open it by the address you were given.`,
  },
  'foreign-origin': {
    status: 403,
    sentence: $localize`The request came from another site. Open Ash Kettle itself and try again.`,
  },
  'not-found': {
    status: 404,
    sentence: $localize`This is not here any more, or never was. Go back and choose again.`,
  },
  'no-such-route': {
    status: 404,
    sentence: $localize`There is nothing at this address. Check it, or start at the Round.`,
  },
  stale: {
    status: 409,
    sentence: $localize`Somebody changed this while you worked on it. Look at their change, then save again.`,
  },
  'already-set-up': { status: 409, sentence: $localize`The first admin already exists. Sign in instead.` },
  'already-exists': { status: 409, sentence: $localize`{what} is in use already. Choose another.` },
  'already-done': {
    status: 409,
    sentence: $localize`This was done already. Nothing was written a second time.`,
  },
  'cannot-undo': { status: 409, sentence: $localize`This can no longer be undone: {why}.` },
  'other-request': {
    status: 409,
    sentence: $localize`This change was sent before as something else. Reload the page and try again.`,
  },
  'in-the-future': {
    status: 422,
    sentence: $localize`The journal holds what happened. Choose a moment that is not in the future.`,
  },
  'in-the-past': { status: 422, sentence: $localize`A next step lies ahead. Choose today or a later day.` },
  'at-its-time': {
    status: 409,
    sentence: $localize`It is promised for a time, and is done then. Change its time instead.`,
  },
  'round-changed': {
    status: 409,
    sentence: $localize`The Round has changed meanwhile. Look at it again, then put the row where it belongs.`,
  },
  'already-claimed': {
    status: 409,
    sentence: $localize`{owner} was faster and has this contact now. Choose another from the pool.`,
  },
  'nobody-to-reach': {
    status: 422,
    sentence: $localize`There is nothing to do for this choice. Pick at least one contact.`,
  },
  'not-a-rule': {
    status: 422,
    sentence: $localize`That is not a rule for repeating. Choose one from the list, or write it as FREQ=WEEKLY;BYDAY=MO.`,
  },
  'needs-a-home': {
    status: 422,
    sentence: $localize`{count} contacts have the standing {name}. Say where they are to go before it can be removed.`,
  },
  'undo-expired': {
    status: 422,
    sentence: $localize`A change can be undone for 30 days. This one is older.`,
  },
  'reason-needed': {
    status: 422,
    sentence: $localize`A deal is open with this person. Plan a next step, or say why there is none.`,
  },
  'import-waits': {
    status: 409,
    sentence: $localize`{file} is to be written first: what it brings is needed here.`,
  },
  'unreadable-file': { status: 422, sentence: $localize`This file could not be read: {why}` },
  'wrong-outcome': {
    status: 422,
    sentence: $localize`That outcome does not belong to a {kind}. Choose one from the list.`,
  },
  'run-not-active': {
    status: 422,
    sentence: $localize`This cadence is not running for the person any more.`,
  },
  'in-use': { status: 409, sentence: $localize`{what} is used in {where}. Take it out there first.` },
  'not-finished': { status: 409, sentence: $localize`{what} cannot be archived yet: {why}.` },
  'not-set-up': {
    status: 422,
    sentence: $localize`No {what} is set up for this installation. The one who runs it finds in the README how.`,
  },
  'not-reached': {
    status: 503,
    sentence: $localize`The {what} does not answer just now: {why}. Try again in a moment.`,
  },
  'facts-missing': {
    status: 422,
    sentence: $localize`The text asks for what is not known: {facts}. Fill it in, or write around it.`,
  },
  'not-to-be-contacted': {
    status: 422,
    sentence: $localize`They asked not to be contacted by {channel}. Choose another way.`,
  },
  'nothing-to-reach-on': {
    status: 422,
    sentence: $localize`There is nothing that works to reach them on by {channel}. Put it right in their details.`,
  },
  'not-so-now': {
    status: 422,
    sentence: $localize`This mail is {state} now, so that cannot be done with it.`,
  },
  'not-moved': { status: 422, sentence: $localize`These steps do not fit together: {why}.` },
  'facts-needed': {
    status: 422,
    sentence: $localize`The stage asks for {facts}. Say it, and the deal goes on.`,
  },
  'brief-open': {
    status: 422,
    sentence: $localize`Before it leaves its stage, tick: {prompts}.`,
  },
  'stage-not-empty': {
    status: 422,
    sentence: $localize`{count} deals stand in {name}. Say where they are to go before it can be removed.`,
  },
  'last-one': { status: 422, sentence: $localize`This is the last {what}. Make another one first.` },
  'lead-decided': {
    status: 422,
    sentence: $localize`This lead is {state}, so that cannot be done with it now.`,
  },
  'program-refused': {
    status: 422,
    sentence: $localize`Programs are not taken: whoever gets them would run what nobody looked at. Send a document or a picture.`,
  },
  'database-full': {
    status: 507,
    sentence: $localize`There is no room left to save this. Keep what you typed, and tell an admin that the disk is full; reading still works.`,
  },
  'disk-full': {
    status: 507,
    sentence: $localize`There is no room for more files. What is written stays safe; tell an admin that the disk is nearly full.`,
  },
  'too-many-keys': {
    status: 409,
    sentence: $localize`You have {most} keys that count, the most one person may. Withdraw one you no longer need.`,
  },
  'too-many-hooks': {
    status: 409,
    sentence: $localize`There are {most} web hooks, the most there may be. Remove one that is no longer needed.`,
  },
  'too-many-rules': {
    status: 409,
    sentence: $localize`There are {most} house rules, the most there may be. Remove one that is no longer needed.`,
  },
  'rules-in-a-circle': {
    status: 409,
    sentence: $localize`These rules would set each other off again and again: {names}. Change what one of them waits for or does.`,
  },
  'quota-full': {
    status: 507,
    sentence: $localize`You keep {gigabytes} GB of files, the most one person may. Remove some you no longer need.`,
  },
  'too-large': {
    status: 413,
    sentence: $localize`This is larger than {limit}. Split it and send the parts.`,
  },
  'sheet-too-long': {
    status: 413,
    sentence: $localize`A workbook has at most {most} rows here, and this list has {found}. Take it as CSV.`,
  },
  'too-many-tries': {
    status: 429,
    sentence: $localize`Too many tries. Wait {seconds} seconds, then try again.`,
  },
  internal: {
    status: 500,
    sentence: $localize`That went wrong on our side and nothing was saved. Try again in a moment.`,
  },
  'too-slow': {
    status: 503,
    sentence: $localize`This took too long and was stopped; nothing was saved. Narrow what you ask for, or try again later.`,
  },
  busy: { status: 503, sentence: $localize`The server has more to do than it can. Try again in a moment.` },
  'database-away': {
    status: 503,
    sentence: $localize`The database does not answer just now. What you typed is kept; try again shortly.`,
  },
} as const satisfies Record<string, { status: number; sentence: string }>;

export type ProblemCode = keyof typeof problems;

/** One field of a request that was refused, by its path. */
export const fieldProblem = z.object({ path: z.string(), message: z.string() });

export type FieldProblem = z.infer<typeof fieldProblem>;

/** Problem details (RFC 9457) as every refused request answers them. */
export const problemDetails = z.object({
  type: z.string(),
  title: z.string(),
  status: z.int(),
  detail: z.string(),
  code: z.string(),
  requestId: z.string(),
  fields: z.array(fieldProblem).optional(),
  /** For `stale`: the record as it is now; for what a stage asks for: which facts or prompts. */
  current: z.unknown().optional(),
});

export type ProblemDetails = z.infer<typeof problemDetails>;

/** @example sentenceOf('too-many-tries', { seconds: 30 }) is 'Too many tries. Wait 30 seconds, then try again.' */
export function sentenceOf(
  code: ProblemCode,
  parameters: Readonly<Record<string, string | number>> = {},
): string {
  return fillIn(problems[code].sentence, parameters);
}

/** A sentence of the catalogue, or the same in another language, with what belongs in its places. */
export const fillIn = (sentence: string, parameters: Readonly<Record<string, string | number>>): string =>
  sentence.replace(/\{(\w+)\}/g, (_, name: string) => String(parameters[name] ?? name));
