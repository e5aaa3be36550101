// Standard charts, drawn by ECharts as SVG in the product's own ink.
const ink = (name) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
const quiet = matchMedia("(prefers-reduced-motion: reduce)").matches;

const thousands = (value) => String(value).replace(/\B(?=(\d{3})+$)/g, "\u202f");

function base() {
  const text = { color: ink("--ink2"), fontFamily: "Text, sans-serif", fontSize: 12 };
  return {
    animationDuration: 250,
    textStyle: text,
    grid: { left: 40, right: 12, top: 14, bottom: 24 },
    axis: { axisLabel: text, axisLine: { lineStyle: { color: ink("--line") } }, axisTick: { show: false }, splitLine: { lineStyle: { color: ink("--line") } } },
    tip: {
      trigger: "axis",
      backgroundColor: ink("--leaf"),
      borderColor: ink("--line"),
      textStyle: { color: ink("--ink"), fontSize: 13 },
      renderMode: "richText",
    },
  };
}

const kinds = {
  tilt(data, look) {
    const best = Math.max(...data.energy);
    const line = data.tilts.map((tilt, i) => [tilt, data.energy[i]]);
    return {
      grid: { ...look.grid, left: 46, bottom: 28 },
      tooltip: {
        ...look.tip,
        formatter: (points) => `${points[0].value[0]}°: ${Math.round(points[0].value[1])} kWh (${((points[0].value[1] / best - 1) * 100).toFixed(1)} %)`,
      },
      xAxis: { type: "value", min: data.tilts[0], max: 90, interval: 15, ...look.axis, axisLabel: { ...look.axis.axisLabel, formatter: "{value}°" } },
      yAxis: { type: "value", scale: true, ...look.axis, splitNumber: 3, axisLabel: { ...look.axis.axisLabel, formatter: thousands } },
      series: [
        {
          type: "line",
          data: line,
          showSymbol: false,
          lineStyle: { color: ink("--brass2"), width: 2.4 },
          itemStyle: { color: ink("--brass2") },
          markArea: { silent: true, itemStyle: { color: ink("--verd2"), opacity: 0.75 }, data: [[{ xAxis: data.band[0] }, { xAxis: data.band[1] }]] },
          markLine: {
            silent: true,
            symbol: "none",
            lineStyle: { color: ink("--verd"), type: "solid", width: 2.4 },
            label: { formatter: `${Number(data.tilt.toFixed(1))}°`, color: ink("--verd"), fontWeight: 700 },
            data: [{ xAxis: data.tilt }],
          },
        },
      ],
    };
  },
  swings(data, look, place) {
    const rows = [...data.rows].reverse();
    const ends = rows.flatMap((row) => [row.npvLow, row.npvHigh]);
    const span = Math.max(...ends) - Math.min(...ends) || 1;
    const power = 10 ** Math.floor(Math.log10(span / 3));
    const interval = [1, 2, 5, 10].map((step) => step * power).find((step) => span / step <= 4);
    const edge = (value, round) => round(value / interval) * interval - data.base;
    const sum = (value) => `${place.dataset.currency} ${Math.round(value)}`;
    const bar = (key, color) => ({
      type: "bar",
      stack: key,
      barGap: "-100%",
      barWidth: 13,
      itemStyle: { color, borderColor: ink("--ink2"), borderWidth: key === "npvLow" ? 0 : 0.6 },
      data: rows.map((row) => row[key] - data.base),
      label: { show: true, position: "inside", formatter: "" },
    });
    return {
      grid: { left: 8, right: 18, top: 6, bottom: 26, containLabel: true },
      tooltip: {
        ...look.tip,
        axisPointer: { type: "shadow" },
        formatter: (points) =>
          `${rows[points[0].dataIndex].name}\n${rows[points[0].dataIndex].low}: ${sum(rows[points[0].dataIndex].npvLow)}\n${rows[points[0].dataIndex].high}: ${sum(rows[points[0].dataIndex].npvHigh)}`,
      },
      xAxis: {
        type: "value",
        ...look.axis,
        interval,
        min: edge(Math.min(...ends), Math.floor),
        max: edge(Math.max(...ends), Math.ceil),
        axisLabel: { ...look.axis.axisLabel, formatter: (value) => thousands(Math.round(value + data.base)) },
      },
      yAxis: { type: "category", data: rows.map((row) => row.name), ...look.axis, axisLabel: { ...look.axis.axisLabel, color: ink("--ink") } },
      series: [bar("npvLow", ink("--shade")), bar("npvHigh", ink("--brass2"))],
    };
  },
};

let init; // of the library, which is loaded when the first chart comes into sight
let loading;
const wake = () => (loading ??= import("../vendor/echarts/echarts.in-use.js").then((library) => (init = library.init)));

// So that paper can make it larger or smaller.
const scalable = (place) => place.querySelector("svg").setAttribute("viewBox", `0 0 ${place.chart.getWidth()} ${place.chart.getHeight()}`);

function draw(place, animation = !quiet) {
  if (place.chart || !place.isConnected) return;
  const chart = init(place, null, { renderer: "svg" });
  const look = base();
  chart.setOption({
    animation,
    animationDuration: look.animationDuration,
    textStyle: look.textStyle,
    ...kinds[place.dataset.chart](JSON.parse(place.dataset.values), look, place),
  });
  place.chart = chart;
  scalable(place);
}
const charts = () => [...document.querySelectorAll("[data-chart]")];

const near = new IntersectionObserver(
  (seen) => {
    for (const { isIntersecting, target } of seen) {
      if (isIntersecting) wake().then(() => draw(target));
    }
  },
  { rootMargin: "0px" },
);

const watch = () => charts().forEach((place) => place.chart || near.observe(place));
const drop = (place) => {
  near.unobserve(place);
  place.chart?.dispose();
  place.chart = null;
};
document.addEventListener("DOMContentLoaded", watch);
document.addEventListener("htmx:beforeSwap", (event) => event.detail.target.querySelectorAll?.("[data-chart]").forEach(drop));
document.addEventListener("htmx:afterSettle", watch);
const fit = () => {
  for (const place of charts().filter((each) => each.chart)) {
    place.chart.resize();
    scalable(place);
  }
};
window.addEventListener("resize", fit);
// On paper every chart is there, seen before or not (its size there is the sheet's: stations.css). The library has to be there by
// then: where paper is likely it is fetched once the page has come to rest.
if (matchMedia("(min-width: 768px)").matches) setTimeout(() => charts().length && wake(), 4000);
window.addEventListener("beforeprint", () => init && charts().forEach((place) => draw(place, false)));
matchMedia("(prefers-color-scheme: dark)").addEventListener("change", () =>
  charts()
    .filter((place) => place.chart)
    .forEach((place) => {
      place.chart.dispose();
      place.chart = null;
      draw(place);
    }),
);
