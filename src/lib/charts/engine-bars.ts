/** Bars for the drawing engine: only the signal has them. */
import { BarChart } from 'echarts/charts';
import { use } from 'echarts/core';

use([BarChart]);
