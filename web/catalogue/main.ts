import { provideHttpClient } from '@angular/common/http';
import { provideEnvironmentInitializer, provideZonelessChangeDetection } from '@angular/core';
import { bootstrapApplication } from '@angular/platform-browser';
import { provideRouter, withHashLocation } from '@angular/router';
import { registerIcons } from '../src/kit/icons';
import { Catalogue } from './catalogue';

void bootstrapApplication(Catalogue, {
  providers: [
    provideZonelessChangeDetection(),
    provideHttpClient(),
    provideRouter([], withHashLocation()),
    provideEnvironmentInitializer(registerIcons),
  ],
});
