import type { MailProof, StirringKind, Template } from '@kettle/contract';

type Text = Pick<Template, 'name' | 'channel' | 'subject' | 'body'>;

const opening = "Hello {{ contact.given_name | default: 'there' }},";

/** What the firm's steps send. A fact that not everybody has is asked for with something to fall back on. */
export const templates: readonly Text[] = [
  {
    name: 'Your water test',
    channel: 'email',
    subject: 'Your water test, {{ company.name | default: contact.name }}',
    body: `${opening}

the strips are read: your water is hard, at the upper end of what a boiler takes without a softener.

Two sentences on what that costs you a year, if you like: shall I call this week?

{{ sender.first_name }}`,
  },
  {
    name: 'Hardness and your boiler',
    channel: 'email',
    subject: 'What hard water costs a boiler',
    body: `${opening}

a millimetre of scale costs about a tenth of the fuel, and it grows by itself. The way out is a softener or a yearly descaling.

{% include 'visit-offer' %}

{{ sender.first_name }}`,
  },
  {
    name: 'A neighbour’s boiler',
    channel: 'email',
    subject: 'What we found in a boiler near {{ company.city | default: "you" }}',
    body: `${opening}

last month we opened a boiler as old as yours may be: four millimetres of scale, and a bill that had crept up for years.

{% include 'visit-offer' %}

{{ sender.first_name }}`,
  },
  {
    name: 'Glad we met',
    channel: 'email',
    subject: 'The question you asked at our stand',
    body: `${opening}

glad we met. You asked how long a test takes: ten minutes, and the result is there at once.

When may I come by?

{{ sender.first_name }}`,
  },
  {
    name: 'Before your agreement ends',
    channel: 'email',
    subject: '{{ agreement.name }}: until {{ agreement.notice_until }} we can still change it',
    body: `${opening}

your agreement ends on {{ agreement.ends }}. Until {{ agreement.notice_until }} we can change what is in it: more visits, another day, fewer litres.

What should be different next year?

{{ sender.first_name }}`,
  },
  {
    name: 'Shall we come by',
    channel: 'text',
    subject: '',
    body: 'Shall we come by for ten minutes next week? A word is enough. {{ sender.first_name }}, {{ sender.organisation }}',
  },
];

export const snippets: readonly { readonly name: string; readonly body: string }[] = [
  {
    name: 'visit-offer',
    body: 'I am near you next week. Ten minutes by the boiler are enough to tell you which.',
  },
  { name: 'opening-hours', body: 'We are there on working days from eight to half past five.' },
];

export const signature = `Imogen Thorne
Hollinbeck Water · softeners, boilers, service
01632 960100`;

export interface DemoArrival {
  readonly from: string;
  readonly name: string;
  readonly subject: string;
  readonly text: string;
  readonly html: string | null;
  /** What the receiving server found of whom it is from. */
  readonly proof: readonly [MailProof, string];
  readonly minutesAgo: number;
}

/** Mail from addresses that nobody here has: it waits to be filed. */
export const arrivals: readonly DemoArrival[] = [
  {
    from: 'office@skellbakery.example',
    name: 'Skell Bakery, office',
    subject: 'Invoice address for the service',
    text: 'Good morning, please send the invoice for the service to this address from now on. The office is closed on Fridays.',
    html: null,
    proof: ['proven', 'SPF pass (skellbakery.example), DMARC pass'],
    minutesAgo: 55,
  },
  {
    from: 'owen.tarrant@privatepost.example',
    name: 'Owen Tarrant',
    subject: 'Re: Your water test',
    text: 'Writing from my own address, the other one is down. Yes, call me tomorrow after ten.\n\nOwen',
    html: null,
    proof: ['unproven', 'SPF softfail (privatepost.example)'],
    minutesAgo: 190,
  },
  {
    from: 'fair@countyshow.example',
    name: 'Marrowdale County Show',
    subject: 'Your stand next year',
    text: 'The plan of the hall is out. Choose your place by the end of the month.',
    html: '<h2>The plan is out</h2><p>Choose your place <b>by the end of the month</b>: <a href="https://countyshow.example/plan">the plan</a>.</p><img src="https://countyshow.example/seen.png" alt="">',
    proof: ['proven', 'DKIM pass (countyshow.example)'],
    minutesAgo: 1260,
  },
];

/** Signs of life of this morning, by the family name of who gave them. */
export const stirrings: readonly {
  readonly familyName: string;
  readonly kind: StirringKind;
  readonly words: string;
  readonly times: number;
  readonly minutesAgo: number;
}[] = [
  {
    familyName: 'Prado',
    kind: 'clicked',
    words: 'followed a link in “What hard water costs a boiler”',
    times: 1,
    minutesAgo: 18,
  },
  { familyName: 'Tarrant', kind: 'opened', words: 'opened “Your water test”', times: 3, minutesAgo: 34 },
  {
    familyName: 'Ellery',
    kind: 'missed-call',
    words: 'called while nobody was there',
    times: 1,
    minutesAgo: 47,
  },
  {
    familyName: 'Aldous',
    kind: 'opened',
    words: 'opened “What hard water costs a boiler”',
    times: 1,
    minutesAgo: 160,
  },
];
