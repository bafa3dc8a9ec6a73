/** Shapes of one’s own for the drawing engine: only the terrain of the error has them. */
import { CustomChart } from 'echarts/charts';
import { use } from 'echarts/core';

use([CustomChart]);
