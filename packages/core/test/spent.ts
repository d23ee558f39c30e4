/** Work that this process has done so far, ms of processor time: what else runs on the machine is not counted. */
export const spentMs = (): number => {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1000;
};
