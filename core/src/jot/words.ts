import type { Channel } from '@kettle/contract';

/**
 * A way people say what happened, and the outcome it is. Names stand as `_` in the text that is asked. The higher rank is the more
 * specific: "called Tom, no answer" is a try that was not answered, whichever of the two comes first.
 */
export interface Happening {
  readonly pattern: RegExp;
  readonly outcomeId: string;
  readonly rank: number;
}

const say = (rank: number, outcomeId: string, ...patterns: readonly string[]): Happening[] =>
  patterns.map((pattern) => ({ pattern: new RegExp(pattern, 'iu'), outcomeId, rank }));

const somebody = String.raw`(?:_+|he|she|they)`;
const lately = String.raw`(?:(?:has|have|had|just|also|then|now|today) )*`;
const them = String.raw`(?:(?:him|her|them|_+) )?`;

/** In their order: of equal rank the first that fits a clause counts. */
export const happenings: readonly Happening[] = [
  ...say(
    9,
    'call-voicemail',
    String.raw`\b(?:left|leave) ${them}(?:a |an )?(?:message|voice ?mail|vm)(?: (?:for|with|to))?\b|\bvoice ?mail\b`,
  ),
  ...say(
    8,
    'call-no-answer',
    String.raw`\bno (?:answer|reply|luck)\b(?: (?:from|at|by))?`,
    String.raw`\b(?:did ?n[o'’]?t|did not|would ?n[o'’]?t|does ?n[o'’]?t|never) (?:pick(?:ed)? up|answer(?:ed)?)\b`,
    String.raw`\b(?:nobody|no ?one) (?:picked up|answered)\b|\brang out\b`,
    String.raw`\bcould(?: ?n[o'’]?t| not) (?:reach|get hold of|get through to)\b|\bnot reached\b`,
    String.raw`^\W*tried (?=_)`,
    String.raw`\btried (?:to )?(?:call(?:ing)?|ring(?:ing)?|phon(?:e|ing)|reach(?:ing)?)\b`,
  ),
  ...say(9, 'call-busy', String.raw`\b(?:line )?(?:was |is )?(?:engaged|busy)\b`),
  ...say(9, 'call-wrong-number', String.raw`\bwrong number\b(?: for)?`),
  ...say(9, 'call-not-interested', String.raw`\b(?:is |was )?not interested\b|\bno interest\b`),
  ...say(
    9,
    'call-later',
    String.raw`\b(?:asked|wants|wanted|said) (?:me |us )?to (?:be )?(?:call|ring|phone)(?:ed)?(?: back)? (?:later|again|another time)\b|\bcall(?:ed)? back later\b`,
  ),
  ...say(10, 'call-came-in', String.raw`\b${somebody} ${lately}(?:called|rang|phoned) back\b`),
  ...say(
    7,
    'call-came-in',
    String.raw`\b(?:called|rang|phoned) (?:me|us|in)\b|\b(?:called|rung|phoned) by\b|\b(?:had|got) a call from\b`,
    String.raw`^\W*${somebody} ${lately}(?:called|rang|phoned)\b(?! _)`,
  ),
  ...say(
    9,
    'meeting-missed',
    String.raw`\b(?:missed|did ?n[o'’]?t (?:show|turn) up|did not (?:show|turn) up|no[- ]?show)\b(?: (?:for|to))?(?:.*\bmeeting\b)?`,
  ),
  ...say(
    9,
    'meeting-called-off',
    String.raw`\b(?:cancelled|canceled|called off|postponed) (?:the |our )?meeting\b`,
    String.raw`\bmeeting (?:with _+ )?(?:was )?(?:cancelled|canceled|called off|postponed)(?: by)?\b`,
  ),
  ...say(9, 'visit-nobody', String.raw`\b(?:nobody|no ?one) (?:was )?(?:there|in|at home)\b`),
  ...say(9, 'email-bounced', String.raw`\b(?:(?:e-?mail|mail|it|letter)(?: to _+)? )?(?:has )?bounced\b`),
  ...say(
    7,
    'text-came-in',
    String.raw`\btexted (?:me|us)\b|\b(?:got|had) a text from\b`,
    String.raw`^\W*${somebody} ${lately}texted\b(?! _)`,
  ),
  ...say(5, 'text-sent', String.raw`\btexted\b|\bsent ${them}a text\b`),
  ...say(
    7,
    'email-came-in',
    String.raw`\b(?:e-?mailed|wrote(?: back)? to|wrote) (?:me|us)\b|\b(?:wrote|mailed) back\b|\breplied\b|\bgot back to (?:me|us)\b`,
    String.raw`\b(?:got|had) (?:an? )?(?:e-?mail|mail|reply|answer) from\b`,
    String.raw`^\W*${somebody} ${lately}(?:e-?mailed|mailed|wrote|answered)\b(?! _)`,
  ),
  ...say(
    5,
    'email-sent',
    String.raw`\b(?:e-?mailed|mailed|wrote to)\b|\bsent ${them}(?:an? )?(?:e-?mail|mail)\b`,
    String.raw`\bsent\b(?= ${them}(?:an? |the )?(?:\p{L}+ )?(?:quote|offer|proposal|brochure|contract|plans?|list)\b)`,
  ),
  ...say(
    5,
    'visit-held',
    String.raw`\bvisited\b|\b(?:dropped|popped|called|went) (?:in|by|round|over)(?: (?:on|at|to))?\b|\bvisit (?:to|at|with)\b`,
  ),
  ...say(
    5,
    'meeting-held',
    String.raw`\bmet(?: up)?(?: with)?\b|\bmeeting with\b(?=.*\b(?:went|held|done)\b)|\bhad (?:a )?(?:meeting|coffee|lunch|dinner) with\b`,
  ),
  ...say(
    5,
    'call-spoke',
    String.raw`\b(?:spoke|talked|chatted)(?: (?:to|with))?\b|\bhad a (?:call|chat) with\b`,
  ),
  ...say(2, 'call-spoke', String.raw`\b(?:called|rang|phoned)\b`),
];

/** Said of a call of which nothing else is said: whether anybody answered is not known. */
export const bareCallRank = 2;

/** What did not happen, or is only thought of. */
export const notHappened =
  /\b(?:have|has|had|did|do|does|could|should|would|must|might|is|was|are|were)(?: ?n['’o]?t| not)\b|\b(?:should|could|would|might) have\b|\b(?:never|not yet|forgot to|meant to|wanted to|failed to|cannot|can['’]t|won['’]t)\b/iu;

/** Something that happened, in words that do not say what. */
export const happenedSomehow =
  /^\W*(?:(?:i|we|just|also|today|yesterday) )*(?:got (?:hold of|through to)|bumped into|ran into|saw|heard from|caught|reached|contacted|caught up with|followed up with|touched base with|dealt with|chased|saw)\b/iu;

/** Words that ask for something to be done, and how. */
export const requests: readonly (readonly [pattern: RegExp, channel: Channel, needsDay?: boolean])[] = [
  [/\b_+ (?:wants|asks for|asked for|would like|needs) (?:a |an )?(?:call|callback)(?: back)?\b/iu, 'call'],
  [/\b_+ (?:wants|asks for|asked for|would like|needs) a visit\b/iu, 'visit', true],
  [/\b_+ (?:wants|asks for|asked for|would like|needs) a meeting\b/iu, 'meeting', true],
  [/\b(?:call|ring|phone)(?: back| again)?\b/i, 'call'],
  [/\b(?:e-?mail|mail|write(?: to)?)\b|\bsend\b/i, 'email'],
  [/\btext\b/i, 'text'],
  [/\b(?:meet(?: with)?|meeting(?: with)?)\b/i, 'meeting'],
  [/\b(?:visit|see|drop (?:in|by)|go to)\b/i, 'visit'],
  [/\b(?:chase|follow up|check(?: in)?(?: with)?)\b/i, 'call'],
  [/\btry(?: again)?\b/i, 'call', true],
  [/\b(?:remind me to|remember to|to ?do|prepare|do|order|check|book|find out|ask)\b/i, 'other'],
];

/** Somebody else is to do it, so that it is not ours: "Theo will call back tomorrow". */
export const theyWill =
  /^\W*_+ (?:will|shall|is going to|are going to|wants to|plans to|promised to|['’]ll)\b/iu;

/** Small words that are no part of a name, a purpose or a note at its ends. */
export const fillers =
  /^(?:to|with|from|about|and|&|then|for|,|;|:|-|–|—|\.|back|again|twice|him|her|them|also|please)$/i;

/** Small words that belong to what follows them: `at the moment`; alone they are left over. */
export const leading = /^(?:at|on|by|in)$/i;

/** Words that may be written with a capital and name nobody. */
export const notNames =
  /^(?:I|I'll|I’ll|We|Call|Called|Rang|Ring|Phone|Phoned|Spoke|Talked|Met|Meet|Visit|Visited|Emailed|Email|E-mail|E-mailed|Mail|Mailed|Wrote|Write|Text|Texted|Left|Sent|Send|See|No|Note|Tried|Missed|Had|Got|Won|Lost|Signed|Need|Must|Should|Did|Monday|Tuesday|Wednesday|Thursday|Friday|Saturday|Sunday|Mon|Tue|Wed|Thu|Fri|Sat|Sun|January|February|March|April|May|June|July|August|September|October|November|December|Today|Tomorrow|Yesterday|They|He|She|We|Wants|Voicemail|Nobody|Remind|Chase|Follow|Check|Meeting|Line|Task|Ask|Dropped|Never|Forgot|Could|Roof|Deal)$/;
