export const match = (param: string): boolean => /^[1-9]\d{0,14}$/.test(param);
