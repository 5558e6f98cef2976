import { ReactiveFormsModule } from '@angular/forms';
import { ChoiceField } from './choice-field';
import { DialogForm } from './dialog-form';
import { NumberField } from './number-field';
import { TextField } from './text-field';

export { labelled, named, sameWords, type Option, type OptionGroup } from './choice-field';
export { field, pathOf, RecordForm, required } from './record-form';

/** What a dialog with a form is made of. */
export const formParts = [ReactiveFormsModule, DialogForm, TextField, NumberField, ChoiceField] as const;
