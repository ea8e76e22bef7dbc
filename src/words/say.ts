/**
 * Messages in the words of a language: ICU MessageFormat (Unicode CLDR), by a well-kept package.
 *
 * Example: `{count, plural, one {# item} other {# items}}` with `{ count: 2 }` is `2 items`.
 */
import { IntlMessageFormat } from 'intl-messageformat';

export type Values = Readonly<Record<string, string | number>>;

const KEPT = 2000;
const compiled = new Map<string, IntlMessageFormat>();

/** @param language a BCP 47 tag. Throws where a value is missing or the pattern cannot be read. */
export function say(pattern: string, values: Values, language: string): string {
	return String(read(pattern, language).format({ ...values }));
}

export type PatternProblem = { code: 'unreadable' } | { code: 'unknown-name'; name: string };

/** What is wrong with a pattern that somebody typed; `names`: the values that it may speak of. */
export function problemOf(
	pattern: string,
	names: readonly string[],
	language: string
): PatternProblem | null {
	let asked: string[];
	try {
		asked = namesIn(read(pattern, language).getAst());
	} catch {
		return { code: 'unreadable' };
	}
	const name = asked.find((one) => !names.includes(one));
	return name === undefined ? null : { code: 'unknown-name', name };
}

function read(pattern: string, language: string): IntlMessageFormat {
	const key = `${language} ${pattern}`;
	let known = compiled.get(key);
	if (!known) {
		if (compiled.size >= KEPT) compiled.clear();
		// Marks of a markup language are text here.
		known = new IntlMessageFormat(pattern, language, undefined, { ignoreTag: true });
		compiled.set(key, known);
	}
	return known;
}

/** The names of the values that a pattern speaks of, each once, in order. */
export function namesOf(pattern: string, language: string): string[] {
	return [...new Set(namesIn(read(pattern, language).getAst()))].sort();
}

type Ast = ReturnType<IntlMessageFormat['getAst']>;

/** The names of the values that a message speaks of, those in its branches included. */
function namesIn(ast: Ast): string[] {
	return ast.flatMap((element) => {
		const inside =
			'options' in element ? Object.values(element.options).flatMap(({ value }) => namesIn(value)) : [];
		// Text and the number of a plural carry no name.
		return 'value' in element && element.type !== 0 ? [element.value, ...inside] : inside;
	});
}
