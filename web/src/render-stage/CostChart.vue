<script setup lang="ts">
import { BarChart } from 'echarts/charts';
import { GridComponent, LegendComponent, TitleComponent, TooltipComponent } from 'echarts/components';
import { use } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { computed } from 'vue';
import VChart from 'vue-echarts';
import { duration, megabytes } from '@zesty-crow/core';
import type { CostRow } from './cost-rows.ts';

use([BarChart, GridComponent, LegendComponent, TitleComponent, TooltipComponent, CanvasRenderer]);

const props = defineProps<{ rows: CostRow[]; what: 'seconds' | 'bytes' }>();
const format = (v: number) => (props.what === 'seconds' ? duration(v) : megabytes(v));

const option = computed(() => {
  const rows = [...props.rows].reverse();
  const bar = (name: string, key: 'real' | 'estimate', color: string) => ({
    name,
    type: 'bar' as const,
    data: rows.map((r) => r[key][props.what]),
    itemStyle: { color },
    barGap: '12%',
    barMaxWidth: 6,
    label: {
      show: key === 'real',
      position: 'right' as const,
      formatter: ({ value }: { value: unknown }) => format(Number(value)),
      color: '#23221f',
      fontSize: 12,
    },
  });
  return {
    animation: false,
    title: {
      text: props.what === 'seconds' ? 'Seconds' : 'Megabytes',
      textStyle: { color: '#65625a', fontSize: 13, fontWeight: 500 as const },
      padding: 0,
      left: 0,
      top: 3,
    },
    textStyle: { fontFamily: "'Source Sans 3 Variable', sans-serif" },
    grid: { left: 0, right: 58, top: 20, bottom: 0, containLabel: true },
    legend: { top: 0, right: 0, itemWidth: 12, itemHeight: 8, textStyle: { color: '#65625a' } },
    tooltip: { trigger: 'axis' as const, valueFormatter: (v: unknown) => format(Number(v)) },
    xAxis: { type: 'value' as const, show: false },
    yAxis: {
      type: 'category' as const,
      data: rows.map((r) => r.title),
      axisTick: { show: false },
      axisLine: { show: false },
      axisLabel: { width: 148, overflow: 'truncate' as const, color: '#23221f', fontSize: 12 },
    },
    series: [bar('estimated', 'estimate', '#c9c4b5'), bar('measured', 'real', '#33322e')],
  };
});
const height = computed(() => `${24 + props.rows.length * 18}px`);
</script>

<template>
  <VChart :option="option" :style="{ height }" autoresize :aria-label="`Cost of each pass in ${what}`" />
</template>
