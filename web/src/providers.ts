import { provideHttpClient, withFetch } from '@angular/common/http';
import { provideZonelessChangeDetection } from '@angular/core';

/** What the door and the pages behind it share. */
export const providers = [provideZonelessChangeDetection(), provideHttpClient(withFetch())];
