import { createRequire } from 'node:module';
import path from 'node:path';
import { Router } from 'express';
import { nonceOf } from './headers';

/** The reader comes from a package; colours, type and what is shown of it are ours. */
const style = `
  body { margin: 0; background: #F7F5F1; color: #24211D; font: 16px/1.5 system-ui, sans-serif; }
  .top { max-inline-size: 1420px; margin: 0 auto; padding: 20px 20px 0; }
  .top a, .swagger-ui .info a { color: #1F5F66; }
  .swagger-ui, .swagger-ui .info .title, .swagger-ui .opblock-tag, .swagger-ui .markdown p, .swagger-ui .info p, .swagger-ui .info li, .swagger-ui table thead tr th,
  .swagger-ui .opblock .opblock-summary-description, .swagger-ui .opblock .opblock-summary-path, .swagger-ui .response-col_status {
    color: #24211D; font-family: system-ui, sans-serif; }
  .swagger-ui .info { margin: 16px 0 24px; max-inline-size: 80ch; }
  .swagger-ui .info .title { font-size: 26px; }
  .swagger-ui .info .title small, .swagger-ui .scheme-container, .swagger-ui .authorization__btn, .swagger-ui .info hgroup .link { display: none; }
  .swagger-ui .markdown code, .swagger-ui .info code { color: #24211D; background: #EFE9E2; font-weight: 500; }
  .swagger-ui .opblock-tag { border-block-end: 1px solid #D8D1C7; font-size: 18px; }
  .swagger-ui .opblock.opblock { margin: 0 0 6px; border: 1px solid #D8D1C7; border-radius: 3px; background: #fff; box-shadow: none; }
  .swagger-ui .opblock.opblock .opblock-summary { border-color: #D8D1C7; }
  .swagger-ui .opblock.opblock .opblock-summary-method { min-inline-size: 64px; padding: 4px 0; border-radius: 3px; background: #EFE9E2; color: #24211D;
    font: 600 13px/1.5 ui-monospace, monospace; text-shadow: none; }
  .swagger-ui .opblock.opblock .tab-header .tab-item.active h4 span::after { background: #1F5F66; }`;

/** Reads the description and draws it; nothing is sent from there, so that no key is typed into a page. */
const script = `SwaggerUIBundle({
  url: '/api/openapi.json', dom_id: '#reader', presets: [SwaggerUIBundle.presets.apis], layout: 'BaseLayout',
  validatorUrl: null, supportedSubmitMethods: [], docExpansion: 'none', defaultModelsExpandDepth: -1, deepLinking: true,
});`;

const page = (nonce: string) => `<!doctype html><html lang="en"><head><meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1"><title>The API of Ash Kettle</title>
<link rel="stylesheet" href="/api/docs/reader.css"><style nonce="${nonce}">${style}</style></head>
<body><p class="top"><a href="/">Back to Ash Kettle</a></p><main id="reader"></main>
<script src="/api/docs/reader.js"></script><script src="/api/docs/init.js"></script></body></html>`;

/** The page at /api/docs: every request there is, from the description. Its files come from a package and lie on this server. */
export function serveApiPage(): Router {
  const folder = path.dirname(
    createRequire(path.join(import.meta.dirname ?? __dirname, 'here.js')).resolve(
      'swagger-ui-dist/package.json',
    ),
  );
  const keep = { maxAge: '1d' };
  return Router()
    .get('/api/docs', (_request, response) => {
      response
        .type('html')
        .set('Cache-Control', 'no-cache')
        .send(page(nonceOf(response)));
    })
    .get('/api/docs/init.js', (_request, response) => {
      response.type('js').set('Cache-Control', 'no-cache').send(script);
    })
    .get('/api/docs/reader.js', (_request, response) => {
      response.sendFile('swagger-ui-bundle.js', { root: folder, ...keep });
    })
    .get('/api/docs/reader.css', (_request, response) => {
      response.sendFile('swagger-ui.css', { root: folder, ...keep });
    });
}
