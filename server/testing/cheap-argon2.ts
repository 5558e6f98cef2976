import * as argon2 from '@node-rs/argon2/index.js';

/** The real hash at its least cost: a test signs hundreds of people up, and what is being tested is not how long that takes. */
export const hash = (password: string) =>
  argon2.hash(password, { memoryCost: 8, timeCost: 1, parallelism: 1 });
export const verify = argon2.verify;
