/** Letting go of what was dragged is a click as well, for the browser: it opens nothing. */
export class DragClick {
  private isDragged = false;

  /** Something was let go of. */
  letGo(): void {
    this.isDragged = true;
    setTimeout(() => (this.isDragged = false));
  }

  /** Whether a click is a press of its own. */
  isPress(): boolean {
    return !this.isDragged;
  }
}
