// usage: node .shot.mjs out.png path [w h] [js]
import { chromium } from '@playwright/test';
const [, , out, path, w = '1280', h = '800', ...steps] = process.argv;
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
const p = await b.newPage({ viewport: { width: +w, height: +h } });
p.on('console', (m) => {
  if (m.type() === 'error') console.log('console:', m.text().slice(0, 300));
});
p.on('pageerror', (e) => console.log('pageerror', String(e).slice(0, 400)));
const base = 'http://127.0.0.1:4300';
await p.request.post(base + '/api/session', {
  data: {
    email: (process.env.WHO ?? 'imogen') + '@hollinbeck.example',
    password: 'copper kettle on the hob',
  },
  headers: { Origin: base },
});
await p.goto(base + path);
await p.waitForTimeout(1800);
for (const s of steps) {
  await new Function('p', 'return (async()=>{' + s + '})()')(p);
  await p.waitForTimeout(700);
}
await p.screenshot({ path: out });
await b.close();
