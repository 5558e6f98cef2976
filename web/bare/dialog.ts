import { Component } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule } from '@angular/material/dialog';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';

/** A dialog of Material with one field: the measure for how fast ours open. */
@Component({
  selector: 'bare-dialog',
  imports: [MatDialogModule, MatFormFieldModule, MatInputModule, MatButtonModule],
  template: `
    <h2 mat-dialog-title>Bare</h2>
    <mat-dialog-content>
      <mat-form-field>
        <mat-label>Name</mat-label>
        <input matInput />
      </mat-form-field>
    </mat-dialog-content>
    <mat-dialog-actions><button matButton mat-dialog-close>Close</button></mat-dialog-actions>
  `,
})
export class BareDialog {}
