import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import type { SignedIn } from '../../records/users/index';
import { openRenewalByHand } from './open-renewal';
import { reports } from './reports';

type Names = 'openRenewal' | 'readRenewals' | 'customerRetention' | 'customerRetentionRecords';

/** @throws Problem `invalid-request` at `from` for a day that no month begins with */
function assertMonth(from: string): void {
  if (from.endsWith('-01')) return;
  const fields = [{ path: 'from', message: $localize`must be the first day of a month` }];
  throw new Problem('invalid-request', {}, { fields });
}

const ownersOf = ({ owner }: { readonly owner: 'mine' | 'all' }, { id }: SignedIn) =>
  owner === 'mine' ? [id] : null;

export function renewalsRoutes(services: Services): Pick<Handlers, Names> {
  return {
    openRenewal: async ({ body, who }) => ({
      dealId: await work(services, who, (w) => openRenewalByHand(w, body.agreementIds)),
    }),
    readRenewals: ({ query, who }) => reports.ahead(services, who, query),
    customerRetention: ({ query, who }) => {
      assertMonth(query.from);
      return reports.retention(services, who, { ...query, owners: ownersOf(query, who) });
    },
    customerRetentionRecords: ({ query, who }) => {
      assertMonth(query.from);
      return reports.records(services, who, { ...query, owners: ownersOf(query, who) });
    },
  };
}
