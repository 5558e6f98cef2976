import { randomBytes } from 'node:crypto';
import type { RequestHandler } from 'express';
import helmet from 'helmet';

/** A fresh nonce for each page, and a policy under which nothing but our own files runs or loads. */
export function securityHeaders({ isHttps }: { readonly isHttps: boolean }): RequestHandler[] {
  return [
    (_request, response, next) => {
      response.locals.nonce = randomBytes(16).toString('base64');
      next();
    },
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'none'"],
          scriptSrc: ["'self'"],
          workerSrc: ["'self'"],
          styleSrc: ["'self'", (_request, response) => `'nonce-${nonceOf(response)}'`],
          // Positions of bars and virtual rows are computed; they are set as style attributes by our own scripts.
          styleSrcAttr: ["'unsafe-inline'"],
          imgSrc: ["'self'", 'data:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          manifestSrc: ["'self'"],
          baseUri: ["'self'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      // Only for a server that people reach by https: on loopback it would lock the name out for a year.
      strictTransportSecurity: isHttps ? { maxAge: 365 * 86_400, includeSubDomains: false } : false,
      referrerPolicy: { policy: 'same-origin' },
      crossOriginEmbedderPolicy: false,
    }),
  ];
}

export function nonceOf(response: object): string {
  return String((response as { locals: { nonce: unknown } }).locals.nonce);
}
