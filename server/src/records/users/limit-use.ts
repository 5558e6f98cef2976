import type { EndpointName } from '@kettle/contract';
import { RateLimiterMySQL } from 'rate-limiter-flexible';
import type { Database } from '../../platform/database/database';
import type { Services } from '../../platform/services';
import type { SignedIn } from './session';
import { take } from './sign-in';

/** Counts what one person asks for in an hour, over all servers, where the contract says how often is enough. */
export function limitUse({ database }: Services) {
  const limiters = new Map<EndpointName, RateLimiterMySQL>();
  return async (who: SignedIn, name: EndpointName, perHour: number): Promise<void> => {
    const limiter = limiters.get(name) ?? limiterOf(database, `use-${name}`, perHour);
    limiters.set(name, limiter);
    await take(limiter, who.id);
  };
}

/** Counts uses of one kind in an hour, over all servers. */
export function limiterOf(database: Database, keyPrefix: string, perHour: number): RateLimiterMySQL {
  return new RateLimiterMySQL({
    storeClient: database.pool.pool,
    dbName: database.name,
    tableName: 'rate_limit',
    tableCreated: true,
    keyPrefix,
    points: perHour,
    duration: 3600,
  });
}
