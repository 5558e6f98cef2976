import { provideHttpClient, withFetch } from '@angular/common/http';
import { Component, provideZonelessChangeDetection } from '@angular/core';
import { bootstrapApplication } from '@angular/platform-browser';
import { provideRouter, RouterOutlet, withComponentInputBinding } from '@angular/router';
import { routes } from './routes';

@Component({ selector: 'kettle-root', imports: [RouterOutlet], template: '<router-outlet />' })
class Root {}

void bootstrapApplication(Root, {
  providers: [
    provideZonelessChangeDetection(),
    provideHttpClient(withFetch()),
    provideRouter(routes, withComponentInputBinding()),
  ],
});
