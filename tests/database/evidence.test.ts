/** What speaks for the publisher in a dispute, and what is kept of mails for it. */
import { execFileSync } from 'node:child_process';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { disputes, payments } from '$server/db/schema/sales';
import { linkOpenings, uses } from '$server/db/schema/access';
import { positions } from '$server/db/schema/library';
import { sentMails } from '$server/db/schema/running';
import { evidenceOf } from '$server/reads/desk/evidence';
import { ownData } from '$server/reads/front/own-data';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { askForLink } from '$server/usecases/accounts/sign-in-link';
import { reconcile } from '$server/usecases/sales/reconcile';
import { buy, makeShop, makeWorld, passDays, type World } from './world';

let world: World;

beforeEach(async () => {
	world = await makeWorld();
});
afterEach(() => world.end());

async function disputed() {
	// The business clock is another one than the wall's, as it may be in the demo.
	await passDays(world, 3);
	const { itemId, slug } = await makeShop(world);
	const { memberId, orderId, ref } = await buy(world, slug);
	await world.stile.runner.runDue('mail');
	const at = world.app.clock.business();
	const wall = world.app.clock.wall();
	await world.app.db.insert(positions).values({ memberId, itemId, seconds: 95, changedAt: wall });
	await world.app.db.insert(uses).values({ memberId, itemId, at, goesOnUntil: at });
	const opening = { linkHash: 'a'.repeat(64), itemId, memberId, network: '192.0.2.0/24' };
	await world.app.db.insert(linkOpenings).values({ ...opening, firstAt: wall, lastAt: wall, requests: 7 });
	world.processor.becomes(ref, 'open', at);
	await reconcile(world.app);
	const [dispute] = await world.app.db.select().from(disputes);
	if (!dispute) throw new Error('nothing is disputed');
	return { memberId, orderId, disputeId: dispute.id };
}

describe('the evidence of a dispute', () => {
	it('has who bought, what was paid, handed over and mailed, and what was opened from where', async () => {
		const { orderId, disputeId } = await disputed();
		const evidence = await evidenceOf(world.app, orderId, disputeId);
		if (!evidence) throw new Error('there is none');
		const { report } = evidence;
		const fact = (label: string) => report.facts.find((one) => one.label === label)?.value;
		expect(fact('Disputed')).toMatch(/^12\.00 EUR, on /);
		expect(fact('Buyer')).toBe('Wren, wren@mail.example');
		expect(fact('Agreed to')).toBe('12.00 EUR a month');
		expect(fact('Card kept now')).toBe('ending in 4242');
		expect(fact('Cancelled')).toBe('Not before this paper');
		const rows = (title: RegExp) => report.sections.find((one) => title.test(one.title))?.rows ?? [];
		expect(rows(/^Payments/).map(([, ...rest]) => rest)).toEqual([['1', '12.00 EUR', 'disputed']]);
		expect(rows(/^Documents/)).toHaveLength(1);
		expect(rows(/opens now$/)).toEqual([['Wheel', 'video']]);
		expect(
			rows(/opened/)
				.map(([, ...rest]) => rest)
				.sort()
		).toEqual([
			['Wheel', 'Fetched in 7 pieces', '192.0.2.0/24'],
			['Wheel', 'Opened, and counted', ''],
			['Wheel', 'Watched or heard to 1:35', '']
		]);
		expect(rows(/mailed/).map(([, to]) => to)).toContain('wren@mail.example');
		const pdf = await world.app.papers.report(report, evidence.at);
		const text = execFileSync('pdftotext', ['-layout', '-', '-'], {
			input: Buffer.from(pdf),
			encoding: 'utf8'
		});
		expect(text).toContain('192.0.2.0/24');
	});

	it('is of a dispute of that order, and of no other', async () => {
		const { orderId, disputeId } = await disputed();
		const other = await buy(world, 'workshop', 'jasper@mail.example');
		expect(await evidenceOf(world.app, other.orderId, disputeId)).toBeNull();
		const [payment] = await world.app.db.select().from(payments);
		expect(await evidenceOf(world.app, orderId, payment?.id ?? '')).toBeNull();
	});
});

describe('mails to members', () => {
	it('are written down once each, in what members take along, and gone with them', async () => {
		const { memberId } = await disputed();
		await world.stile.runner.runDue('mail');
		const sent = await world.app.db.select().from(sentMails);
		const toWren = world.mails.filter(({ to }) => to === 'wren@mail.example');
		expect(sent.map(({ subject }) => subject).sort()).toEqual(toWren.map(({ subject }) => subject).sort());
		expect((await ownData(world.app, memberId))?.mails).toHaveLength(sent.length);
		await deleteMember(world.app, null, memberId);
		expect(await world.app.db.select().from(sentMails)).toEqual([]);
	});

	it('are not written down of addresses that belong to nobody', async () => {
		await askForLink(world.app, {
			email: 'nobody@mail.example',
			next: '/',
			client: '127.0.0.1',
			joins: true
		});
		await world.stile.runner.runDue('sign-in');
		expect(world.mails).toHaveLength(1);
		expect(await world.app.db.select().from(sentMails)).toEqual([]);
	});
});
