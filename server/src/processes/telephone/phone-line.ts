import { postTo } from './gateway';

export interface PhoneLine {
  /** Rings a number; what becomes of it is told by web hook under the id given. */
  dial(call: { readonly id: string; readonly to: string; readonly from: string }): Promise<void>;
  hangUp(id: string): Promise<void>;
}

export function httpPhoneLine(url: string): PhoneLine {
  return {
    dial: async (call) => void (await postTo(`${url}/calls`, call)),
    hangUp: async (id) => void (await postTo(`${url}/calls/${id}/hang-up`, {})),
  };
}
