import type { DealRow } from '@kettle/contract';

export const stages = ['Inquiry', 'Survey'].map((name, position) => ({
  id: name,
  pipelineId: 'p',
  name,
  winProbability: 0.1 + position * 0.15,
  patienceDays: 14,
  position,
  needs: [],
  brief: { prompts: [], tasks: [] },
}));
/** A pipeline of two stages, as the server sends it. */
export const pipeline = { id: 'p', name: 'Plant sales', version: 1, stages };
/** A deal as lanes and lists show one; only what the test is about needs to be said. */
export const aDealRow = (part: object = {}): DealRow =>
  ({
    id: 'd1',
    name: 'Hotel Linde: softener',
    status: 'open',
    companyName: 'Hotel Linde',
    contactName: 'Greta Holm',
    contactId: 'greta',
    ownerId: 'me',
    ownerName: 'Imogen Thorne',
    teamIds: [],
    stageId: 'Inquiry',
    notches: 0,
    amountMinor: 1_200_000,
    currency: 'GBP',
    homeMinor: 1_200_000,
    weightedMinor: 120_000,
    winProbability: 0.1,
    expectedCloseOn: '2026-12-10',
    tether: {
      lastTouchAt: null,
      lastTouchKind: null,
      lastTouchCounts: null,
      nextStepOn: '2026-11-26',
      nextStepChannel: 'call',
      nextStepAt: null,
    },
    tetherState: 'held',
    stalledDays: -3,
    version: 4,
    ...part,
  }) as never;
/** The same with everything that hangs on it. */
export const aWholeDeal = (part: object = {}) =>
  ({
    origin: null,
    handedOn: [],
    renews: [],
    ...aDealRow(),
    companyId: 'firm',
    ownProbability: null,
    decisionOn: null,
    source: null,
    parent: null,
    children: [],
    leadId: null,
    competitors: ['Kolk'],
    team: [],
    people: [],
    lines: [],
    custom: {},
    prompts: [],
    type: 'new',
    priority: 'usual',
    wakeOn: null,
    closedOn: null,
    closeReason: null,
    closeWords: '',
    lostTo: null,
    agreementId: null,
    ...part,
  }) as never;
