import type { CustomerRetention, RenewalsAhead, RetentionRecords, UserId, ValueMove } from '@kettle/contract';
import type { HeavyTasks } from '../../platform/heavy';
import type { Services } from '../../platform/services';
import { readSignedIn, type SignedIn } from '../../records/users/index';
import { readRenewalsAhead } from './read-renewals';
import { customerRetention, customerRetentionRecords, type RetentionAsked } from './read-retention';

const names = {
  ahead: 'renewals-ahead',
  retention: 'customer-retention',
  records: 'customer-retention-records',
} as const;

interface Input<Asked> {
  readonly userId: UserId;
  readonly asked: Asked;
}

type OfKind = RetentionAsked & { readonly kind: ValueMove };

const task =
  <Asked>(run: (services: Services, who: SignedIn, asked: Asked) => Promise<unknown>) =>
  async (services: Services, input: unknown) => {
    const { userId, asked } = input as Input<Asked>;
    return run(services, await readSignedIn(services.database, userId, services.clock.now()), asked);
  };

/** What adds up every agreement: seconds in a large installation, and beside the thread that answers. */
export const reportTasks: HeavyTasks = {
  [names.ahead]: task(readRenewalsAhead),
  [names.retention]: task(customerRetention),
  [names.records]: task<OfKind>(customerRetentionRecords),
};

const ask = <Asked>(name: string, services: Services, who: SignedIn, asked: Asked): Promise<unknown> =>
  services.heavy.run(name, { userId: who.id, asked } satisfies Input<Asked>);

/** The three reports, computed in the thread for long work. */
export const reports = {
  ahead: (services: Services, who: SignedIn, asked: { readonly owner: 'mine' | 'all' }) =>
    ask(names.ahead, services, who, asked) as Promise<RenewalsAhead>,
  retention: (services: Services, who: SignedIn, asked: RetentionAsked) =>
    ask(names.retention, services, who, asked) as Promise<CustomerRetention>,
  records: (services: Services, who: SignedIn, asked: OfKind) =>
    ask(names.records, services, who, asked) as Promise<RetentionRecords>,
};

/** For other reports: the same of the agreements of some people. */
export const retentionOf = reports.retention;
export const retentionRecordsOf = reports.records;
