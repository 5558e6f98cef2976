export const root: string;
export const dataFolder: string;
