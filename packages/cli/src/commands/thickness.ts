import { operationCommand } from '../operationCommand.ts';

export const thickness = operationCommand<'thickness', { min?: number }>('thickness', {
  report(report, { options }) {
    if (options.min !== undefined) return report;
    // without a least wall nothing is thin
    const { places: _places, thinAreaMm2: _area, ...plain } = report;
    return { ...plain, belowMinAreaPct: null };
  },
});
