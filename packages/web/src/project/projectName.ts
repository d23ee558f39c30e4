const meshName = /\.(stl|obj|ply|3mf)$/i;

/** A name for the project that files are dropped for: that of the first that looks like a model. */
export const projectNameOf = (files: readonly { name: string }[]): string => {
  const first = files.find((f) => meshName.test(f.name)) ?? files[0];
  return (first?.name.replace(/\.[^.]+$/, '') || 'New project').slice(0, 120);
};
