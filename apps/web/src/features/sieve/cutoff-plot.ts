import {
  BarController,
  BarElement,
  Chart,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  PointElement,
} from 'chart.js';
import type { Curve } from './cutoff-curves';

Chart.register(BarController, BarElement, LineController, LineElement, PointElement, LinearScale, LogarithmicScale);

export type CutoffPlot = Chart<'bar' | 'line', Curve>;

/** As many as can be told apart, each by its dashes. */
const DASHES = [
  [5, 3],
  [2, 2],
  [8, 3, 2, 3],
];
export const MOST_CURVES = DASHES.length;
export const FLOOR = 1e-7; // below one texel of the largest picture: the log scale has no zero

/** Bars of alphas, the curve of level 0, and those of chosen levels; all empty. @param colour - Of a name of the theme. */
export function makeCutoffPlot(
  canvas: HTMLCanvasElement,
  colour: (name: string) => string,
  onResize: () => void,
): CutoffPlot {
  return new Chart(canvas, {
    type: 'bar',
    data: {
      datasets: [
        {
          type: 'bar',
          data: [],
          yAxisID: 'texels',
          order: 1,
          barPercentage: 0.9,
          categoryPercentage: 1,
          grouped: false,
          barThickness: 3.4,
          backgroundColor: () => colour('--bar'),
        },
        {
          type: 'line',
          data: [],
          yAxisID: 'coverage',
          pointRadius: 0,
          borderWidth: 2,
          borderColor: () => colour('--green'),
        },
        ...DASHES.map((borderDash) => ({
          type: 'line' as const,
          data: [],
          yAxisID: 'coverage',
          pointRadius: 0,
          borderWidth: 1.5,
          borderDash,
          borderColor: () => colour('--ink-soft'),
        })),
      ],
    },
    options: {
      animation: false,
      maintainAspectRatio: false,
      events: [],
      layout: { padding: { left: 8, right: 8, top: 16 } },
      scales: {
        x: { type: 'linear', min: 0, max: 1, display: false, offset: false },
        texels: { type: 'logarithmic', min: FLOOR, max: 1, display: false },
        coverage: { type: 'linear', min: 0, max: 1, display: false },
      },
      onResize,
    },
  });
}
