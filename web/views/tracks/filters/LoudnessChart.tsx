import ReactApexChart from 'react-apexcharts';
import { useEffect, useState } from 'react';
import { clockLength } from '@early-set/core/clock/clock';

// The bundler hands over the package's namespace instead of its default export.
const Chart = (ReactApexChart as unknown as { default?: typeof ReactApexChart }).default ?? ReactApexChart;

const css = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

/** Short-term loudness over time with the integrated value as a line. */
export default function LoudnessChart({ curve, integrated }: { curve: number[]; integrated: number | null }) {
  const [theme, setTheme] = useState(() => document.documentElement.dataset.theme);
  useEffect(() => {
    const watch = new MutationObserver(() => setTheme(document.documentElement.dataset.theme));
    watch.observe(document.documentElement, { attributes: true, attributeFilter: ['data-theme'] });
    return () => watch.disconnect();
  }, []);
  const points = curve.map((lufs, i) => [i + 3, Math.max(-50, lufs)] as [number, number]);
  const top = Math.ceil(Math.max(-6, ...points.map(([, y]) => y)) / 3) * 3;
  const loud = points.map(([, y]) => y).filter((y) => y > -50);
  const bottom = Math.max(-50, Math.floor((Math.min(...loud, (integrated ?? -20) - 6) - 2) / 3) * 3);
  if (points.length < 2) return <p className="text-dim">Too short for a curve.</p>;
  return (
    <Chart
      key={theme}
      type="line"
      height={112}
      series={[{ name: 'LUFS', data: points }]}
      options={{
        chart: {
          animations: { enabled: false },
          toolbar: { show: false },
          zoom: { enabled: false },
          sparkline: { enabled: false },
          background: 'transparent',
          fontFamily: 'Spline Sans Mono Variable',
        },
        colors: [css('--energy')],
        stroke: { width: 1.5, curve: 'straight' },
        dataLabels: { enabled: false },
        grid: { borderColor: css('--hair'), padding: { left: 2, right: 4, top: -18, bottom: -4 } },
        xaxis: {
          type: 'numeric',
          tickAmount: 3,
          labels: { formatter: (s) => clockLength(Number(s)), style: { colors: css('--dim'), fontSize: '10.5px' } },
          axisBorder: { show: false },
          axisTicks: { show: false },
          tooltip: { enabled: false },
        },
        yaxis: {
          min: bottom,
          max: top,
          tickAmount: 3,
          labels: {
            formatter: (y) => y.toFixed(0).replace('-', '−'),
            style: { colors: css('--dim'), fontSize: '10.5px' },
            offsetX: -8,
          },
        },
        annotations:
          integrated === null ? {} : { yaxis: [{ y: integrated, borderColor: css('--buoy'), strokeDashArray: 3 }] },
        tooltip: {
          theme: theme === 'night' ? 'dark' : 'light',
          x: { formatter: (s) => clockLength(Number(s)) },
          y: { formatter: (y) => `${y.toFixed(1)} LUFS` },
        },
      }}
    />
  );
}
