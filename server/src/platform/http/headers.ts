import { randomBytes } from 'node:crypto';
import type { RequestHandler } from 'express';
import helmet from 'helmet';

/** A fresh nonce for each page, and a policy under which nothing but our own files runs or loads. */
export function securityHeaders(): RequestHandler[] {
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
      // Loopback and plain HTTP are served as well; a proxy that ends TLS sets its own.
      strictTransportSecurity: false,
      referrerPolicy: { policy: 'same-origin' },
      crossOriginEmbedderPolicy: false,
    }),
  ];
}

export function nonceOf(response: object): string {
  return String((response as { locals: { nonce: unknown } }).locals.nonce);
}
