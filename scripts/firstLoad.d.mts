export const mostKb: number;
export function firstLoad(folder: string): { initialKb: number; projectKb: number; onDemandKb: number };
