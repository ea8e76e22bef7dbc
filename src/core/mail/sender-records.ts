/**
 * What a domain says in its names of who may send mail for it, read as receivers read it: SPF (RFC 7208), DKIM (RFC 6376) and
 * DMARC (RFC 7489). Texts are those of TXT records, each joined from its strings.
 */

export const RECORD_KINDS = ['spf', 'dkim', 'dmarc'] as const;
export type RecordKind = (typeof RECORD_KINDS)[number];

/** What was found at a name; `null`: nobody answered. */
export type FoundTexts = readonly string[] | null;

export type RecordVerdict =
	| { state: 'good' }
	/** Nobody answered: nothing is known. */
	| { state: 'no-answer' }
	| { state: 'missing' }
	/** More than one of a kind: receivers read none of them. */
	| { state: 'several'; count: number }
	/** What receivers cannot read. */
	| { state: 'unreadable'; at: string }
	/** SPF: it lets anybody send. */
	| { state: 'lets-anybody' }
	/** SPF: it asks for more lookups than receivers make. */
	| { state: 'too-many-lookups'; count: number }
	/** DKIM: the name has another key. */
	| { state: 'another-key' }
	/** DKIM: the key there was taken back. */
	| { state: 'taken-back' };

/** As many lookups a receiver makes for one SPF record (RFC 7208 §4.6.4). */
const MOST_LOOKUPS = 10;
const MECHANISM = /^[-+~?]?(all|include|a|mx|ptr|ip4|ip6|exists)(?:[:/].*)?$/i;
const MODIFIER = /^[a-z][a-z0-9_.-]*=/i;
const WITH_LOOKUP = /^[-+~?]?(?:include:|a(?:[:/]|$)|mx(?:[:/]|$)|ptr(?:[:/]|$)|exists:|redirect=)/i;

/** RFC 7208 §4.5: of the texts at the domain itself, the one that begins with this version. */
export function judgeSpf(found: FoundTexts): RecordVerdict {
	if (found === null) return { state: 'no-answer' };
	const own = found.filter((text) => /^v=spf1(?: |$)/i.test(text));
	const [only] = own;
	if (only === undefined) return { state: 'missing' };
	if (own.length > 1) return { state: 'several', count: own.length };
	const terms = only.split(/ +/).slice(1).filter(Boolean);
	const wrong = terms.find((term) => !MECHANISM.test(term) && !MODIFIER.test(term));
	if (wrong !== undefined) return { state: 'unreadable', at: wrong };
	const all = terms.find((term) => /^[-+~?]?all$/i.test(term));
	if (all !== undefined && /^\+?all$/i.test(all)) return { state: 'lets-anybody' };
	const count = terms.filter((term) => WITH_LOOKUP.test(term)).length;
	return count > MOST_LOOKUPS ? { state: 'too-many-lookups', count } : { state: 'good' };
}

/** @param publicKey as it has to stand there, in base64 (RFC 6376 §3.6.1) */
export function judgeDkim(found: FoundTexts, publicKey: string): RecordVerdict {
	if (found === null) return { state: 'no-answer' };
	const [only] = found;
	if (only === undefined) return { state: 'missing' };
	if (found.length > 1) return { state: 'several', count: found.length };
	const tags = tagsOf(only);
	if (typeof tags === 'string') return { state: 'unreadable', at: tags };
	const [first] = tags.keys();
	const version = tags.get('v');
	if (version !== undefined && (version !== 'DKIM1' || first !== 'v'))
		return { state: 'unreadable', at: `v=${version}` };
	const kind = tags.get('k') ?? 'rsa';
	if (kind !== 'rsa') return { state: 'unreadable', at: `k=${kind}` };
	const key = tags.get('p');
	if (key === undefined) return { state: 'unreadable', at: only };
	if (key === '') return { state: 'taken-back' };
	return key.replaceAll(/\s/g, '') === publicKey ? { state: 'good' } : { state: 'another-key' };
}

/**
 * Names at which a record for DMARC may stand: at the domain itself, else at that which it belongs to (RFC 7489 §6.6.3). Which one that
 * is takes a list of public suffixes; here every one outward is asked, and a public suffix has none.
 */
export function dmarcNames(domain: string): string[] {
	const labels = domain.split('.');
	const parents = labels.map((_, n) => labels.slice(n)).filter((rest) => rest.length > 1);
	// Of a long name, those between are left out.
	const near = labels.length > 8 ? [parents[0], ...parents.slice(-6)] : parents;
	return near.flatMap((rest) => (rest ? [`_dmarc.${rest.join('.')}`] : []));
}

/** Of one name: the record there; of several, `judgeDmarc` of the first that is not missing. */
export function judgeDmarc(found: FoundTexts): RecordVerdict {
	if (found === null) return { state: 'no-answer' };
	const own = found.filter((text) => /^v\s*=\s*DMARC1\s*(?:;|$)/.test(text));
	const [only] = own;
	if (only === undefined) return { state: 'missing' };
	if (own.length > 1) return { state: 'several', count: own.length };
	const tags = tagsOf(only);
	if (typeof tags === 'string') return { state: 'unreadable', at: tags };
	const policy = tags.get('p');
	// Without a policy, one that asks for reports asks for nothing else (RFC 7489 §6.6.3, 6).
	const isPolicy = policy === undefined ? tags.has('rua') : /^(?:none|quarantine|reject)$/i.test(policy);
	if (!isPolicy) return { state: 'unreadable', at: policy === undefined ? only : `p=${policy}` };
	return { state: 'good' };
}

/** The tags of a list (RFC 6376 §3.2), in their order; what is none, as it stands there. */
function tagsOf(text: string): Map<string, string> | string {
	const tags = new Map<string, string>();
	for (const part of text.split(';')) {
		if (part.trim() === '') continue;
		const [, name, value] = /^\s*([a-z][a-z0-9_]*)\s*=\s*([^;]*?)\s*$/is.exec(part) ?? [];
		if (name === undefined || value === undefined || tags.has(name)) return part.trim();
		tags.set(name, value);
	}
	return tags;
}

/** What has to be written at a name, as a TXT record. */
export interface WantedRecord {
	name: string;
	text: string;
}

/** The name of a domain's key, by its number. */
export function selectorOf({ number }: { number: number }): string {
	return `stile${number}`;
}

export function wantedDkim(domain: string, selector: string, publicKey: string): WantedRecord {
	return { name: `${selector}._domainkey.${domain}`, text: `v=DKIM1; k=rsa; p=${publicKey}` };
}

/** It asks for nothing yet but that there is one. */
export function wantedDmarc(domain: string): WantedRecord {
	return { name: `_dmarc.${domain}`, text: 'v=DMARC1; p=none' };
}

/** What one that stands there may become, or what a new one says: a server that sends by itself. @param server its name or address */
export function wantedSpf(domain: string, server: string, found: FoundTexts): WantedRecord {
	const own = (found ?? []).find((text) => /^v=spf1(?: |$)/i.test(text));
	const terms = (own ?? 'v=spf1').split(/ +/).filter((term) => term !== '' && !/^[-+~?]?all$/i.test(term));
	const sends = mechanismFor(server);
	if (!terms.includes(sends)) terms.push(sends);
	return { name: domain, text: [...terms, '~all'].join(' ') };
}

function mechanismFor(server: string): string {
	if (/^[0-9.]+$/.test(server)) return `ip4:${server}`;
	return server.includes(':') ? `ip6:${server}` : `a:${server}`;
}

/** The part of an address that receivers ask about, as they ask: `null` where it is none. */
export function domainOfAddress(email: string): string | null {
	const typed = email.slice(email.lastIndexOf('@') + 1);
	if (!email.includes('@') || !URL.canParse(`http://${typed}`)) return null;
	// Names of other letters are asked about in their spelling of plain ones.
	const domain = new URL(`http://${typed}`).hostname;
	return /^[a-z0-9-]+(?:\.[a-z0-9-]+)+$/.test(domain) && /[a-z]/.test(domain) ? domain : null;
}
