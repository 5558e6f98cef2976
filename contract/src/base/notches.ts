/** Cuts in a deal's bar within one stage; leaving the stage is the step after the last. */
export const mostNotches = 4;
