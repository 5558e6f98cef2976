const key = 'kettle.been-here';

/** Whether somebody was signed in on this machine last; who they are, and whether they still are, the server says. */
export const beenHere = {
  is: (): boolean => localStorage.getItem(key) !== null,
  note: (): void => localStorage.setItem(key, 'yes'),
  forget: (): void => localStorage.removeItem(key),
};
