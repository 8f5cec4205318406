/** Whether this is a device that is touched: it has no keys to name. */
export const touched = (): boolean => matchMedia("(pointer: coarse)").matches;
