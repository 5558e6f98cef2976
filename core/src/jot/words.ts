import type { Channel } from '@kettle/contract';

/** A way people say what happened, and the outcome it is. The first that fits a clause wins. */
export const happenings: readonly (readonly [pattern: RegExp, outcomeId: string])[] = [
  [
    /\b(?:left|leave) (?:(?:him|her|them) )?(?:a |an )?(?:message|voice ?mail|vm)\b|\bvoice ?mail\b/i,
    'call-voicemail',
  ],
  [
    /\bno (?:answer|reply|luck)\b|\b(?:did ?n[o'’]?t|would ?n[o'’]?t|never) (?:pick(?:ed)? up|answer)\b|\brang out\b|\btried (?:to )?(?:call(?:ing)?|ring(?:ing)?|phon(?:e|ing))\b/i,
    'call-no-answer',
  ],
  [/\b(?:line )?(?:was )?(?:engaged|busy)\b/i, 'call-busy'],
  [/\bwrong number\b/i, 'call-wrong-number'],
  [/\bnot interested\b|\bno interest\b/i, 'call-not-interested'],
  [
    /\b(?:asked|wants|wanted|said) (?:me |us )?to (?:be )?(?:call|ring|phone)(?:ed)?(?: back)? (?:later|again|another time)\b|\bcall(?:ed)? back later\b/i,
    'call-later',
  ],
  [/\b(?:called|rang|phoned) (?:me|us|in)\b/i, 'call-came-in'],
  [
    /\b(?:missed|did ?n[o'’]?t (?:show|turn) up (?:for|to)?|no[- ]?show)\b(?:.*\bmeeting\b)?/i,
    'meeting-missed',
  ],
  [
    /\bmeeting (?:was )?(?:cancelled|canceled|called off|postponed)\b|\bcalled off (?:the |our )?meeting\b/i,
    'meeting-called-off',
  ],
  [/\bnobody (?:was )?(?:there|in)\b/i, 'visit-nobody'],
  [/\b(?:e-?mail|mail|it|letter) (?:has )?bounced\b|\bbounced\b/i, 'email-bounced'],
  [/\btexted (?:me|us)\b|\b(?:got|had) a text from\b/i, 'text-came-in'],
  [/\btexted\b|\bsent (?:(?:him|her|them) )?a text\b/i, 'text-sent'],
  [
    /\b(?:e-?mailed|wrote(?: back)? to|wrote) (?:me|us)\b|\b(?:wrote|mailed) back\b|\breplied\b|\b(?:got|had) (?:an? )?(?:e-?mail|mail|reply|answer) from\b/i,
    'email-came-in',
  ],
  [
    /\b(?:e-?mailed|mailed|wrote to)\b|\bsent (?:(?:him|her|them) )?(?:an? |the )?(?:e-?mail|mail|quote|offer|proposal|brochure)\b/i,
    'email-sent',
  ],
  [
    /\bvisited\b|\b(?:dropped|popped|called|went) (?:in|by|round|over)(?: (?:on|at|to))?\b|\bvisit (?:to|at|with)\b/i,
    'visit-held',
  ],
  [
    /\bmet(?: up)?(?: with)?\b|\bmeeting with\b(?=.*\b(?:went|held|done)\b)|\bhad (?:a )?(?:meeting|coffee|lunch) with\b/i,
    'meeting-held',
  ],
  [
    /\b(?:spoke|talked|chatted)(?: (?:to|with))?\b|\bhad a (?:call|chat) with\b|\b(?:called|rang|phoned)\b/i,
    'call-spoke',
  ],
];

/** Words that ask for something to be done, and how. */
export const requests: readonly (readonly [pattern: RegExp, channel: Channel])[] = [
  [/\b(?:call|ring|phone)(?: back)?\b/i, 'call'],
  [/\b(?:e-?mail|mail|write(?: to)?)\b|\bsend\b/i, 'email'],
  [/\btext\b/i, 'text'],
  [/\b(?:meet(?: with)?|meeting)\b/i, 'meeting'],
  [/\b(?:visit|see|drop (?:in|by)|go to)\b/i, 'visit'],
  [/\b(?:chase|follow up|check(?: in)?(?: with)?)\b/i, 'call'],
  [/\b(?:remind me to|remember to|to ?do|prepare|do|order|check|book|find out|ask)\b/i, 'other'],
];

/** Small words that are no part of a name, a purpose or a note. */
export const fillers =
  /^(?:to|with|at|from|about|and|then|on|for|by|,|;|:|-|–|—|\.|back|again|her|him|them)$/i;

/** Words that may be written with a capital and name nobody. */
export const notNames =
  /^(?:I|Call|Called|Rang|Ring|Phone|Phoned|Spoke|Talked|Met|Meet|Visit|Visited|Emailed|Email|E-mail|E-mailed|Mail|Mailed|Wrote|Write|Text|Texted|Left|Sent|Send|See|No|Note|Tried|Missed|Had|Got|Monday|Tuesday|Wednesday|Thursday|Friday|Saturday|Sunday|Mon|Tue|Wed|Thu|Fri|Sat|Sun|January|February|March|April|May|June|July|August|September|October|November|December|Today|Tomorrow|Yesterday|They|He|She|We|Wants|Voicemail|Nobody|Remind|Chase|Follow|Check|Meeting|Line)$/;
