/** A table whose rows the server has put in order: its columns, which of them are shown, and what it is in the order of. */
import {
	columnVisibilityFeature,
	constructTable,
	rowSortingFeature,
	tableFeatures,
	type RowData
} from '@tanstack/table-core';
import { storeReactivityBindings } from '@tanstack/table-core/store-reactivity-bindings';

const features = tableFeatures({
	coreReactivityFeature: storeReactivityBindings(),
	columnVisibilityFeature,
	rowSortingFeature
});

/**
 * @param order as addresses say it: `name`, or `-name` for the other way round
 * @param hidden ids of columns that are left out
 */
export function tableOf<Row extends RowData>(
	columns: readonly { id: string; header: string }[],
	order: string,
	hidden: readonly string[] = []
) {
	return constructTable<typeof features, Row>({
		features,
		columns: columns.map((column) => ({ ...column })),
		data: [],
		manualSorting: true,
		initialState: {
			columnVisibility: Object.fromEntries(hidden.map((id) => [id, false])),
			sorting: order === '' ? [] : [{ id: order.replace(/^-/, ''), desc: order.startsWith('-') }]
		}
	});
}

/** What a press on a column's head asks for: upwards, downwards, and then no order of its own. */
export function nextOrder(order: string, id: string): string | null {
	if (order === id) return `-${id}`;
	return order === `-${id}` ? null : id;
}
