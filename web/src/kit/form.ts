import { ReactiveFormsModule } from '@angular/forms';
import { ChoiceField } from './choice-field';
import { DialogForm } from './dialog-form';
import { PageForm } from './page-form';
import { NumberField } from './number-field';
import { TextField } from './text-field';

export { labelled, named, sameWords, type Option, type OptionGroup } from './choice-field';
export { keptSettings } from './kept-settings';
export { demand, field, pathOf, RecordForm, required } from './record-form';

const fields = [ReactiveFormsModule, TextField, NumberField, ChoiceField] as const;

/** What a dialog with a form is made of. */
export const formParts = [...fields, DialogForm] as const;

/** What a page with a form is made of. */
export const pageFormParts = [...fields, PageForm] as const;
