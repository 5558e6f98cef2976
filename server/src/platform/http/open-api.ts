import {
  endpoints,
  formerSecretHours,
  hookEvents,
  hookFailingDays,
  hookMessage,
  hookRetrySeconds,
  keyAreaLabel,
  keyUsesPerHour,
  placeOf,
  problemDetails,
  routes,
  type EndpointName,
  type HookEventName,
  type RouteSpec,
} from '@kettle/contract';
import { extendZodWithOpenApi, OpenAPIRegistry, OpenApiGeneratorV31 } from '@asteasolutions/zod-to-openapi';
import * as z from 'zod';

extendZodWithOpenApi(z);

const notForKeys = 'In the browser alone';
const forEveryKey = 'For every key';

/** What somebody who writes a program must know before the first request. */
const introduction = `
A program asks in a person’s name, with a key made under **Settings, My API keys**. It may do what that person may, as far as the
key’s scopes go, and sends the key with each request:

\`\`\`
GET /api/session
Authorization: Bearer kettle_…
\`\`\`

- A scope is an area, to read or also to change. The area of each request is the group it stands in here.
- A key may ask ${keyUsesPerHour.toLocaleString('en')} times an hour; then it is answered 429 with the seconds to wait.
- A request that changes something may carry an \`X-Change-Id\` (a UUID of your own). Sent again with the same id, it is done once.
- A refusal is \`application/problem+json\` (RFC 9457) with a \`code\` that stays and a sentence that says what to do.
- What is changed carries the \`version\` it was read with; where somebody changed the same field meanwhile, it is refused as \`stale\`.

**Web hooks** follow Standard Webhooks: a POST with \`webhook-id\`, \`webhook-timestamp\` and \`webhook-signature\`. Check the signature over
the raw body, refuse a time more than five minutes away, and keep ids you have seen. Answer with 2xx within 20 seconds. Otherwise it is
tried again ${hookRetrySeconds.length} times over three days, with the same id, and an address that fails for ${hookFailingDays} days is told no more. Nothing is said of
order. After a new secret both sign for ${formerSecretHours} hours, one signature after the other.
`.trim();

/** The route table as an OpenAPI 3.1 description, with what web hooks send. */
export function describeApi(): Record<string, unknown> {
  const registry = new OpenAPIRegistry();
  const session = registry.registerComponent('securitySchemes', 'session', {
    type: 'apiKey',
    in: 'cookie',
    name: 'kettle_session',
  });
  const key = registry.registerComponent('securitySchemes', 'key', {
    type: 'http',
    scheme: 'bearer',
    description: 'A key made under Settings, My API keys',
  });
  for (const name of Object.keys(endpoints) as EndpointName[]) {
    const [method, path] = endpoints[name].split(' ') as [string, string];
    const spec: RouteSpec = routes[name];
    registry.registerPath({
      operationId: name,
      method: method.toLowerCase() as 'get',
      path: path.replace(/:(\w+)/g, '{$1}'),
      summary: spec.summary,
      tags: [groupOf(name)],
      ...(spec.access === 'anyone' ? {} : { security: securityOf(name, session.name, key.name) }),
      request: {
        ...(spec.params ? { params: spec.params } : {}),
        ...(spec.query ? { query: spec.query } : {}),
        ...(spec.body ? { body: { content: { 'application/json': { schema: spec.body } } } } : {}),
      },
      responses: {
        200: { description: 'Done', content: { 'application/json': { schema: spec.reply } } },
        default: {
          description: 'Refused',
          content: { 'application/problem+json': { schema: problemDetails } },
        },
      },
    });
  }
  for (const name of Object.keys(hookEvents) as HookEventName[])
    registry.registerWebhook({
      path: name,
      method: 'post',
      summary: `Sent when ${hookEvents[name].words}`,
      tags: ['Web hooks'],
      request: { body: { content: { 'application/json': { schema: hookMessage } } } },
      responses: { 204: { description: 'Taken' } },
    });
  const tags = [...Object.values(keyAreaLabel), forEveryKey, 'Web hooks', notForKeys];
  return {
    ...new OpenApiGeneratorV31(registry.definitions).generateDocument({
      openapi: '3.1.0',
      info: { title: 'Ash Kettle', version: '0.1.0', description: introduction },
      tags: tags.map((name) => ({ name })),
    }),
  };
}

function groupOf(name: EndpointName): string {
  const place = placeOf(name);
  if (place === 'never') return notForKeys;
  return place === 'open' ? forEveryKey : keyAreaLabel[place];
}

/** By a session, or by a key with the scope that is named. */
function securityOf(name: EndpointName, session: string, key: string): Record<string, string[]>[] {
  const place = placeOf(name);
  if (place === 'never') return [{ [session]: [] }];
  const way = endpoints[name].startsWith('GET ') ? 'read' : 'write';
  return [{ [session]: [] }, { [key]: place === 'open' ? [] : [`${place}:${way}`] }];
}
