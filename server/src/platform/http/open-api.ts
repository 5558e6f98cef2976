import { endpoints, problemDetails, routes, type EndpointName, type RouteSpec } from '@kettle/contract';
import { extendZodWithOpenApi, OpenAPIRegistry, OpenApiGeneratorV31 } from '@asteasolutions/zod-to-openapi';
import * as z from 'zod';

extendZodWithOpenApi(z);

/** The route table as an OpenAPI 3.1 description. */
export function describeApi(): Record<string, unknown> {
  const registry = new OpenAPIRegistry();
  const signedIn = registry.registerComponent('securitySchemes', 'session', {
    type: 'apiKey',
    in: 'cookie',
    name: 'kettle_session',
  });
  for (const name of Object.keys(endpoints) as EndpointName[]) {
    const [method, path] = endpoints[name].split(' ') as [string, string];
    const spec: RouteSpec = routes[name];
    registry.registerPath({
      operationId: name,
      method: method.toLowerCase() as 'get',
      path: path.replace(/:(\w+)/g, '{$1}'),
      summary: spec.summary,
      ...(spec.access === 'anyone' ? {} : { security: [{ [signedIn.name]: [] }] }),
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
  return {
    ...new OpenApiGeneratorV31(registry.definitions).generateDocument({
      openapi: '3.1.0',
      info: { title: 'Ash Kettle', version: '0.1.0' },
    }),
  };
}
