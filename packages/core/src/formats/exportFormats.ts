export const exportFormats = ['stl', 'obj', 'ply', '3mf'] as const;

export type ExportFormat = (typeof exportFormats)[number];

export const mediaTypes: Record<ExportFormat, string> = {
  stl: 'model/stl',
  obj: 'model/obj',
  ply: 'application/octet-stream',
  '3mf': 'model/3mf',
};
