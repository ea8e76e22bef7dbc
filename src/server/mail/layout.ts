/** How a mail looks: the publisher's name with the two rails, one button first, a table of what it is about, then the rest. */
import type { Mail } from '../ports/mail';

export interface Letter {
	to: string;
	site: string;
	/** Of links and buttons, and of what is written on these. */
	colours: { own: string; onOwn: string };
	language: string;
	/** Before the button's address, for whom it does not work. */
	byHand: string;
	subject: string;
	/** Paragraphs. The button comes after the first. */
	paragraphs: readonly string[];
	button: { label: string; url: string } | null;
	table: readonly { label: string; value: string }[];
	links: readonly { label: string; url: string }[];
}

/** Mail programs know tables and styles on elements, and little else. */
const FONT = 'font-family:Georgia,serif';
const INK = '#14212b';
const LINE = '#c9d3d1';

export function laidOut(letter: Letter): Omit<Mail, 'key'> {
	return { to: letter.to, subject: letter.subject, text: asText(letter), html: asHtml(letter) };
}

function asText({ paragraphs: [first = '', ...others], button, table, links, site }: Letter): string {
	const rows = table.map(({ label, value }) => `${label}: ${value}`).join('\n');
	return [
		first,
		button ? `${button.label}: ${button.url}` : '',
		rows,
		...others,
		...links.map(({ label, url }) => `${label}: ${url}`),
		site
	]
		.filter((part) => part !== '')
		.join('\n\n');
}

function asHtml({
	paragraphs: [first = '', ...others],
	button,
	table,
	links,
	site,
	language,
	subject,
	byHand: byHandWords,
	colours: { own, onOwn }
}: Letter): string {
	const paragraph = (text: string) =>
		`<p style="margin:0 0 16px">${escapeHtml(text).replaceAll('\n', '<br>')}</p>`;
	const rail = (width: number, left: number) =>
		`<div style="height:3px;width:${width}px;margin:0 0 3px ${left}px;background:${own};font-size:0;line-height:0">&nbsp;</div>`;
	const pressed = button
		? `<table role="presentation" cellpadding="0" cellspacing="0" border="0" style="margin:0 0 20px"><tr><td style="background:${own};border-radius:4px"><a href="${escapeHtml(button.url)}" style="display:inline-block;padding:12px 22px;color:${onOwn};font-weight:bold;text-decoration:none">${escapeHtml(button.label)}</a></td></tr></table>`
		: '';
	const rows = table.map(
		({ label, value }) =>
			`<tr><td style="padding:6px 24px 6px 0;border-top:1px solid ${LINE};color:#4d5b65">${escapeHtml(label)}</td><td style="padding:6px 0;border-top:1px solid ${LINE};text-align:right">${escapeHtml(value)}</td></tr>`
	);
	const listed =
		rows.length > 0
			? `<table cellpadding="0" cellspacing="0" border="0" width="100%" style="margin:0 0 20px;border-bottom:1px solid ${LINE}">${rows.join('')}</table>`
			: '';
	const byHand = button
		? `<p style="margin:0 0 12px">${escapeHtml(byHandWords)}<br><a href="${escapeHtml(button.url)}" style="color:${own};word-break:break-all">${escapeHtml(button.url)}</a></p>`
		: '';
	const further = links
		.map(({ label, url }) => `<a href="${escapeHtml(url)}" style="color:${own}">${escapeHtml(label)}</a>`)
		.join(' &nbsp; ');
	return `<!doctype html>
<html lang="${escapeHtml(language)}">
<head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><meta name="color-scheme" content="light"><title>${escapeHtml(subject)}</title></head>
<body style="margin:0;padding:0;background:#eef2f1">
<table role="presentation" cellpadding="0" cellspacing="0" border="0" width="100%" style="background:#eef2f1"><tr><td align="center" style="padding:24px 12px">
<table role="presentation" cellpadding="0" cellspacing="0" border="0" width="560" style="width:100%;max-width:560px;background:#ffffff;border:1px solid ${LINE}"><tr><td style="padding:20px 28px 28px;${FONT};font-size:17px;line-height:26px;color:${INK};text-align:left">
${rail(34, 0)}${rail(14, 10)}
<p style="margin:8px 0 20px;font-size:15px;color:#4d5b65">${escapeHtml(site)}</p>
${paragraph(first)}${pressed}${listed}${others.map(paragraph).join('')}
</td></tr><tr><td style="padding:16px 28px;border-top:1px solid ${LINE};${FONT};font-size:13px;line-height:20px;color:#4d5b65;text-align:left">${byHand}${further}</td></tr></table>
</td></tr></table>
</body>
</html>`;
}

function escapeHtml(text: string): string {
	return text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}
