/** Rules of forms that hold others: what class-validator finds in a tree of them, told place by place. */
import { ValidateBy, validateSync, type ValidationError } from 'class-validator';

/** A rule with a sentence for each thing that may be wrong; `null`: nothing is. */
export function Says<F extends object>(problem: (form: F) => string | null): PropertyDecorator {
	return ValidateBy({
		name: 'says',
		validator: {
			validate: (_value, args) => problem(args?.object as F) === null,
			defaultMessage: (args) => problem(args?.object as F) ?? ''
		}
	});
}

/** The first sentence for each place, by its path (`crossings.0.window.opens.count`), in the order of the form. */
export function problemsIn(form: object): [path: string, message: string][] {
	return flat(validateSync(form, { forbidUnknownValues: true }), form, '');
}

function flat(found: readonly ValidationError[], form: object, above: string): [string, string][] {
	const order = Object.keys(form);
	const sorted = [...found].sort((a, b) => order.indexOf(a.property) - order.indexOf(b.property));
	return sorted.flatMap(({ property, constraints, children = [], value }): [string, string][] => {
		const path = above === '' ? property : `${above}.${property}`;
		// What is wrong inside comes first; the lowest decorator is the first of several.
		const inner = flat(children, (value ?? {}) as object, path);
		const own = Object.values(constraints ?? {}).slice(0, 1);
		return inner.length > 0 ? inner : own.map((message) => [path, message]);
	});
}
