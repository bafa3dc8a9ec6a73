/** The drawing engine with the parts that our charts use: a chunk of its own, loaded when a chart is first shown. */
import { LineChart, ScatterChart } from 'echarts/charts';
import {
	DataZoomComponent,
	GridSimpleComponent,
	MarkAreaComponent,
	MarkLineComponent,
	MarkPointComponent,
} from 'echarts/components';
import { type EChartsCoreOption, init, use } from 'echarts/core';
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

/** A chart as an SVG document, without the rules for what stands under a pointer: none does, and no page of ours takes them. */
export function drawing(option: EChartsCoreOption, width: number, height: number): string {
	const chart = init(null, null, { renderer: 'svg', ssr: true, width, height });
	chart.setOption(option);
	const text = chart.renderToSVGString();
	chart.dispose();
	return text.replace(/<style.*?<\/style>\s*/s, '');
}
