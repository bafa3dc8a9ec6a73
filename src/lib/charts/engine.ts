/** The drawing engine with the parts that our charts use: a chunk of its own, loaded when a chart is first shown. */
import { LineChart, ScatterChart } from 'echarts/charts';
import {
	DataZoomComponent,
	GridSimpleComponent,
	MarkAreaComponent,
	MarkLineComponent,
	MarkPointComponent,
} from 'echarts/components';
import { init, use } from 'echarts/core';
import { CanvasRenderer, SVGRenderer } from 'echarts/renderers';

use([
	LineChart,
	ScatterChart,
	DataZoomComponent,
	GridSimpleComponent,
	MarkAreaComponent,
	MarkLineComponent,
	MarkPointComponent,
	CanvasRenderer,
	SVGRenderer,
]);

export { init };
