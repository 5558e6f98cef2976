import { TestRequest } from '@angular/common/http/testing';
import { endpoints, routes, type EndpointName } from '@kettle/contract';
import * as z from 'zod';

type Schema = z.core.$ZodType;

/**
 * What a server that a test plays answers is held against the contract: a reply may leave out what the test is not about, which is filled in,
 * but says nothing the contract does not know. Ids may be plain words.
 */
export function checkFakes(): void {
  const { flush } = TestRequest.prototype;
  TestRequest.prototype.flush = function (this: TestRequest, body, options) {
    // A refusal, or that what is known still stands, has no reply.
    const hasReply = (options?.status ?? 200) < 300;
    const name = !hasReply ? null : endpointOf(this.request.method, this.request.url);
    return flush.call(this, name === null ? body : (wholeReply(name, body) as typeof body), options);
  };
}

const patterns = (Object.entries(endpoints) as [EndpointName, string][]).map(([name, endpoint]) => {
  const [method = '', path = ''] = endpoint.split(' ');
  return {
    name,
    method,
    path: new RegExp(`^${path.replace(/:\w+/g, '[^/]+')}$`),
    isExact: !path.includes(':'),
  };
});

function endpointOf(method: string, url: string): EndpointName | null {
  const path = url.split('?', 1)[0]!;
  const found = patterns.filter((each) => each.method === method && each.path.test(path));
  return (found.find(({ isExact }) => isExact) ?? found[0])?.name ?? null;
}

/** @throws Error with every part of it that the contract does not allow */
function wholeReply(name: EndpointName, reply: unknown): unknown {
  const schema = routes[name].reply as Schema;
  const whole = filled(schema, reply, name);
  const issues = z.core.safeParse(schema, whole).error?.issues ?? [];
  const wrong = issues.filter((issue) => !(issue.code === 'invalid_format' && issue.format === 'uuid'));
  if (wrong.length > 0) throw new Error(`no reply of ${name}: ${JSON.stringify(wrong.slice(0, 5))}`);
  return whole;
}

/** The value with what it leaves out. */
function filled(schema: Schema, value: unknown, at: string): unknown {
  const { def } = schema._zod as unknown as { def: z.core.$ZodTypes['_zod']['def'] };
  switch (def.type) {
    case 'object': {
      if (value !== undefined && (typeof value !== 'object' || value === null)) return value;
      const given = (value ?? {}) as Record<string, unknown>;
      const unknown = Object.keys(given).filter((key) => !(key in def.shape));
      if (unknown.length > 0 && def.catchall === undefined)
        throw new Error(`${at} has no ${unknown.join(', ')} in the contract`);
      const entries = Object.entries(def.shape).map(([key, part]) => [
        key,
        filled(part, given[key], `${at}.${key}`),
      ]);
      return Object.fromEntries(entries.filter(([, part]) => part !== undefined));
    }
    case 'array':
      return Array.isArray(value)
        ? value.map((each, n) => filled(def.element, each, `${at}.${n}`))
        : (value ?? []);
    case 'tuple':
      return value ?? def.items.map((item, n) => filled(item, undefined, `${at}.${n}`));
    case 'nullable':
      return value === undefined || value === null ? null : filled(def.innerType, value, at);
    case 'optional':
    case 'default':
      return value === undefined ? undefined : filled(def.innerType, value, at);
    case 'union': {
      const options = def.options as readonly Schema[];
      if (value === undefined) return filled(options[0]!, value, at);
      const { discriminator } = def as { discriminator?: string };
      const fits = options.find((option) => {
        if (discriminator === undefined) return false;
        const shape = (option._zod.def as unknown as { shape: Record<string, Schema> }).shape;
        return z.core.safeParse(shape[discriminator]!, (value as Record<string, unknown>)[discriminator])
          .success;
      });
      return fits ? filled(fits, value, at) : value;
    }
    case 'intersection':
      return value;
    case 'pipe':
      return filled(def.in, value, at);
    case 'lazy':
      return value ?? null;
    default:
      return value === undefined ? sampleOf(def, at) : value;
  }
}

const sampleTexts: Readonly<Record<string, string>> = {
  currency: 'GBP',
  zone: 'Europe/London',
  country: 'GB',
};

function sampleOf(def: z.core.$ZodTypes['_zod']['def'], at: string): unknown {
  switch (def.type) {
    case 'enum':
      return Object.values(def.entries)[0];
    case 'literal':
      return def.values[0];
    case 'boolean':
      return false;
    case 'number':
      return 1;
    case 'record':
      return {};
    case 'null':
      return null;
    case 'string': {
      const { format } = def as { format?: string };
      const samples: Readonly<Record<string, string>> = {
        date: '2026-11-24',
        datetime: '2026-11-24T09:10:00.000Z',
        uuid: '01900000-0000-7000-8000-000000000001',
        email: 'somebody@firm.example',
        url: 'https://firm.example',
      };
      return samples[format ?? ''] ?? sampleTexts[at.split('.').at(-1)!] ?? 'x';
    }
    default:
      return undefined;
  }
}
