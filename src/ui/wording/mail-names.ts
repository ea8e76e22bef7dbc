/** What the names in mails stand for, as chips call them. */
const NAMES: Readonly<Record<string, string>> = {
	site: 'name of the site',
	plan: 'plan',
	amount: 'amount',
	number: 'order number',
	statement: 'name on card statements',
	day: 'day',
	ending: 'last figures of the card',
	month: 'month the card ends',
	count: 'how many',
	held: 'plan they have',
	how: 'how it is paid',
	why: 'your words',
	giver: 'who gives it',
	address: 'mail address'
};

export function mailNameWords(name: string): string {
	return NAMES[name] ?? name;
}
