import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { type Express, type RequestHandler, Router } from 'express';
import staticGzip from 'express-static-gzip';
import { nonceOf } from './headers';
import { loadLanguages } from '../language/language';
import { Problem } from '../problem';

/** What tells a browser how to treat a document means nothing on a script, a style sheet or a font; on 35 of them it was a seventh of the first load. */
const ofDocuments = [
  'Content-Security-Policy',
  'Cross-Origin-Opener-Policy',
  'Origin-Agent-Cluster',
  'Referrer-Policy',
  'X-DNS-Prefetch-Control',
  'X-Download-Options',
  'X-Frame-Options',
  'X-Permitted-Cross-Domain-Policies',
  'X-XSS-Protection',
];

/** A worker's script is held by its own policy, a picture can be opened as a document: both keep theirs. */
const dropHeaders: RequestHandler = (request, response, next) => {
  if (/^\/(?!worker-)[^/]+\.(js|css)$|\.woff2$/.test(request.path))
    for (const name of ofDocuments) response.removeHeader(name);
  next();
};

/** Files whose names change with what is in them, kept by browsers for a year; smaller forms that lie beside them are sent instead. */
export function builtFiles(root: string): Router {
  // Validators would be asked for never: a name stands for one content.
  const serveStatic = {
    immutable: true,
    maxAge: '1y',
    etag: false,
    lastModified: false,
    acceptRanges: false,
  };
  return Router()
    .use(dropHeaders)
    .use(staticGzip(root, { enableBrotli: true, orderPreference: ['br'], index: false, serveStatic }));
}

/** The page in each language that was built beside English: its texts are a script that runs before the application. */
function pagesOf(root: string): ReadonlyMap<string, string> {
  const page = readFileSync(path.join(root, 'index.html'), 'utf8');
  const pages = new Map([['en', page]]);
  for (const name of readdirSync(root)) {
    const [, language] = /^texts\.([\w-]+)\.\w+\.js$/.exec(name) ?? [];
    if (language === undefined) continue;
    const script = `<script src="${name}" type="module"></script>`;
    pages.set(
      language,
      page.replace('<html lang="en"', `<html lang="${language}"`).replace('<script src="main', `${script}$&`),
    );
  }
  return pages;
}

/** Serves the built application: its files, and its one page, in the browser's language and with a fresh nonce, for everything else. */
export function serveWeb(app: Express, root: string): void {
  loadLanguages(root);
  const pages = pagesOf(root);
  app.use(builtFiles(root));
  app.get('/{*path}', (request, response) => {
    if (path.extname(request.path) !== '') throw new Problem('no-such-route');
    const language = request.acceptsLanguages([...pages.keys()]) || 'en';
    response
      .set('Cache-Control', 'no-store')
      .vary('Accept-Language')
      .type('html')
      .send(pages.get(language)!.replaceAll('__NONCE__', nonceOf(response)));
  });
}
