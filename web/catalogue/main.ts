import { provideHttpClient } from '@angular/common/http';
import { provideZonelessChangeDetection } from '@angular/core';
import { bootstrapApplication } from '@angular/platform-browser';
import { provideRouter, withHashLocation } from '@angular/router';
import { provideIcons } from '../src/kit/icons';
import { Catalogue } from './catalogue';

void bootstrapApplication(Catalogue, {
  providers: [
    provideZonelessChangeDetection(),
    provideHttpClient(),
    provideRouter([], withHashLocation()),
    provideIcons(),
  ],
});
