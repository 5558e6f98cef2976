import { Component, inject, provideAppInitializer } from '@angular/core';
import { bootstrapApplication } from '@angular/platform-browser';
import { provideRouter, RouterOutlet, withComponentInputBinding } from '@angular/router';
import type { Session } from '@kettle/contract';
import { providers } from './providers';
import { routes } from './routes';
import { CurrentUser } from './services/current-user';

@Component({ selector: 'kettle-root', imports: [RouterOutlet], template: '<router-outlet />' })
class Root {}

/** Every page, at the address that is open; whoever has just come in by the door is known already. */
export async function openApp(session: Session | null = null): Promise<void> {
  // The frame is on its way while the server says who is here.
  if (location.pathname !== '/account') void import('./shell/shell');
  await bootstrapApplication(Root, {
    providers: [
      ...providers,
      provideRouter(routes, withComponentInputBinding()),
      provideAppInitializer(() => {
        if (session !== null) inject(CurrentUser).enter(session);
      }),
    ],
  });
}
