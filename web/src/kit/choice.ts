import { MatSelectModule } from '@angular/material/select';
import { fieldParts } from './field';

/** A field that is chosen in from more than four, or typed into; in a file of its own, so that fields alone do not bring the list along. */
export const choiceParts = [...fieldParts, MatSelectModule] as const;
