import * as z from 'zod';
import { wordingId } from '../base/ids';
import { byId, ok, type RouteSpec } from '../base/route';
import {
  declineWording,
  draftWording,
  listWordings,
  releaseWording,
  withdrawWording,
  wording,
} from './schemas';

const params = byId.extend({ id: wordingId });

export const wordingsRoutes = {
  listWordings: {
    access: 'rep',
    summary: 'Changes of texts and cadences that wait for release, or those of one of them',
    query: listWordings,
    reply: z.object({ wordings: z.array(wording) }),
  },
  draftWording: {
    access: 'rep',
    summary: 'Ask for a change of a text or cadence to be released',
    body: draftWording,
    reply: wording,
  },
  releaseWording: {
    access: 'rep',
    summary: 'Release a change: it goes out from now on',
    params,
    body: releaseWording,
    reply: ok,
  },
  declineWording: {
    access: 'rep',
    summary: 'Decline a change, with the reason',
    params,
    body: declineWording,
    reply: ok,
  },
  withdrawWording: {
    access: 'rep',
    summary: 'Withdraw a change that one asked for',
    params,
    body: withdrawWording,
    reply: ok,
  },
} as const satisfies Record<string, RouteSpec>;
