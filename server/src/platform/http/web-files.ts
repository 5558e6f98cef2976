import { readFileSync } from 'node:fs';
import path from 'node:path';
import express, { type Express } from 'express';
import { nonceOf } from './headers';
import { Problem } from '../problem';

/** Serves the built application: hashed files for a year, and its one page with a fresh nonce for everything else. */
export function serveWeb(app: Express, root: string): void {
  const page = readFileSync(path.join(root, 'index.html'), 'utf8');
  app.use(express.static(root, { index: false, immutable: true, maxAge: '1y' }));
  app.get('/{*path}', (request, response) => {
    if (path.extname(request.path) !== '') throw new Problem('no-such-route');
    response
      .set('Cache-Control', 'no-store')
      .type('html')
      .send(page.replaceAll('__NONCE__', nonceOf(response)));
  });
}
