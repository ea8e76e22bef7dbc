/** What mails say, by occasion. A publisher may write each in words of their own. */

export interface MailText {
	subject: string;
	/** Paragraphs, with an empty line between them. */
	text: string;
	/** What stands on the button; `null`: there is none. */
	button: string | null;
}

const ONCE = 'It works on any device, once, for 14 days.';

export const MAIL = {
	'sign-in': {
		subject: 'Sign in to {site}',
		text: `Press the button, and then the one on the page that opens: you are signed in on the device you open it with. ${ONCE}\n\nIf you did not ask for it, leave it: opening it alone does nothing.`,
		button: 'Sign in'
	},
	join: {
		subject: 'Your account at {site}',
		text: `Press the button, and then the one on the page that opens: your free account is made, and you are signed in. ${ONCE}\n\nIf you did not ask for it, leave it: nothing is made.`,
		button: 'Make my account'
	},
	invitation: {
		subject: 'You are let in to {site}',
		text: `An account has been made for you.\n\nThe button signs you in. ${ONCE}`,
		button: 'Sign in'
	},
	'invitation-plan': {
		subject: 'You are let in to {site}',
		text: `You have been given {plan}.\n\nThe button signs you in and opens it. ${ONCE}`,
		button: 'Open {plan}'
	},
	staff: {
		subject: 'You work at the Desk of {site} now',
		text: `The button signs you in at the Desk. ${ONCE} You can set a password in your account.`,
		button: 'Sign in to the Desk'
	},
	'new-address': {
		subject: 'Your new address at {site}',
		text: 'This address is to be the one of an account at {site}. Press the button, and then the one on the page that opens: from then on we write here, and you sign in with it. It works for two days.\n\nIf you did not ask for it, leave it: nothing is changed.',
		button: 'Use this address'
	},
	'address-taken': {
		subject: 'This address has an account at {site}',
		text: 'Somebody asked to use this address for another account at {site}. It has an account already, and nothing was changed.\n\nIf it was you: the button signs you in to that account. If not, leave it.',
		button: 'Sign in'
	},
	'address-changed': {
		subject: 'Your address at {site} was changed',
		text: 'From now on we write to {address}, and no more to this address.\n\nIf it was not you, press the button within 14 days: the address is put back, everybody is signed out, and you sign in by a mailed link.',
		button: 'It was not me'
	},
	'code-asked': {
		subject: 'A code is asked for when you sign in to {site}',
		text: 'From now on whoever signs in to your account at {site} is asked for a code from your app besides. Every other device was signed out.\n\nIf it was not you, answer this mail.',
		button: 'See it in your account'
	},
	'code-not-asked': {
		subject: 'No code is asked for any more at {site}',
		text: 'From now on your password or a mailed link alone signs you in at {site}, without a code from your app.\n\nIf it was not you, answer this mail.',
		button: 'See it in your account'
	},
	'recovery-code-used': {
		subject: 'A recovery code has signed you in to {site}',
		text: 'Somebody signed in to your account at {site} with one of your recovery codes. Recovery codes left: {count}. In your account you can make new ones.\n\nIf it was not you, change your password there and make new codes.',
		button: 'See it in your account'
	},
	told: {
		subject: '{site}: what has just happened ({count})',
		text: 'This has just happened. It stands at the Desk, too, under Today.\n\nHow you are told, and of what, you choose in the settings, under “Mails to you”.',
		button: 'Open Today'
	},
	'told-daily': {
		subject: '{site}: the day ({count})',
		text: 'This has happened since the last mail of the day. It stands at the Desk, too, under Today.\n\nHow you are told, and of what, you choose in the settings, under “Mails to you”.',
		button: 'Open Today'
	},
	order: {
		subject: '{plan} is open for you',
		text: `Thank you. {plan} is open for you from now on.\n\nThe button signs you in and opens it. ${ONCE}\n\nThe payment stands as {statement} on your card statement. Your receipts are in your account.`,
		button: 'Open {plan}'
	},
	'order-later': {
		subject: '{plan} is yours: it begins on {day}',
		text: `Thank you. {plan} begins for everybody on {day}, and opens for you then. Until then it stands in your account.\n\nThe button signs you in. ${ONCE}\n\nThe payment stands as {statement} on your card statement. Your receipts are in your account.`,
		button: 'Your account'
	},
	reminder: {
		subject: 'You began to buy {plan}',
		text: `You began to buy {plan} at {site}, and did not pay: nothing was charged. If you still want it, the button signs you in and goes on where you were. ${ONCE}\n\nIf you do not, leave this mail: there is no other about it.`,
		button: 'Go on'
	},
	seat: {
		subject: '{giver} has a seat for you: {plan}',
		text: `{giver} has bought {plan} at {site} for several people, and keeps a seat for you.\n\nThe button signs you in, and there you take it. ${ONCE}\n\nIf you do not want it, leave it: nothing is kept open for you.`,
		button: 'See your seat'
	},
	wait: {
		subject: 'Shall we tell you when {plan} is on sale?',
		text: 'Somebody typed this address at {site} to be told when {plan} can be bought. If it was you, press the button, and then the one on the page that opens: you are told once, when it is, and not of anything else.\n\nIf it was not you, leave it: nothing more is sent.',
		button: 'Yes, tell me'
	},
	'on-sale': {
		subject: '{plan} is on sale',
		text: 'You wanted to be told: {plan} can be bought at {site} from now on.\n\nThis was the one mail about it.',
		button: 'Buy {plan}'
	},
	'gift-bought': {
		subject: 'Your gift: {plan}',
		text: `Thank you. {plan} is paid for {address}, who is told on {day}: it opens for them when they open it.\n\nIn your account you see whether they have, and can mend the address. The button signs you in. ${ONCE}\n\nThe payment stands as {statement} on your card statement.`,
		button: 'See it in your account'
	},
	gift: {
		subject: '{giver} gives you {plan}',
		text: `{giver} has bought {plan} at {site} for you.\n\nThe button signs you in and shows it. It opens when you open it there, and not before: nothing of it is lost if you wait. ${ONCE}`,
		button: 'See your gift'
	},
	'joined-plan': {
		subject: '{plan} is open for you',
		text: `{plan} is open for you from now on.\n\nThe button signs you in and opens it. ${ONCE}`,
		button: 'Open {plan}'
	},
	'joined-later': {
		subject: '{plan} is yours: it begins on {day}',
		text: `{plan} begins for everybody on {day}, and opens for you then. Until then it stands in your account.\n\nThe button signs you in. ${ONCE}`,
		button: 'Your account'
	},
	'join-plan': {
		subject: 'Open {plan}',
		text: `{plan} waits for you. Press the button, and then the one on the page that opens: you are signed in, and it is open. ${ONCE}\n\nIf you did not ask for it, leave it: opening it alone does nothing.`,
		button: 'Open {plan}'
	},
	'order-pay': {
		subject: 'How to pay for {plan}',
		text: 'Thank you for your order {number}. Pay {amount} like this:\n\n{how}\n\nName the order {number} with it. {plan} opens as soon as the money has come in, and we write to you then. The order waits until {day}.',
		button: 'Your order'
	},
	'order-confirm': {
		subject: 'Confirm your order of {plan}',
		text: `{plan} was ordered with this address, for {amount}. Press the button, and then the one on the page that opens, so that we know it was you: until then the order is not looked at. ${ONCE}\n\nThen pay like this:\n\n{how}\n\nName the order {number} with it. {plan} opens as soon as the money has come in. The order waits until {day}.\n\nIf it was not you, leave it: nothing happens.`,
		button: 'It was me'
	},
	'order-refused': {
		subject: 'Your order {number} has ended',
		text: 'We have not taken the order of {plan} for {amount}: nothing is open, and nothing is owed.\n\n{why}\n\nIf you have paid already, or if this is wrong, answer this mail.',
		button: 'See {plan}'
	},
	'to-pay': {
		subject: '{amount} is due for {plan}',
		text: 'The next payment of {amount} is due. Pay it like this:\n\n{how}\n\nName the order {number} with it. {plan} stays open until {day}; if the money comes later, it opens again then.',
		button: 'How to pay'
	},
	'had-already': {
		subject: 'You had {plan} already',
		text: `You have paid {amount} for {plan}, which you had already. The money goes back to you.\n\nThe button signs you in and opens it. ${ONCE}`,
		button: 'Open {plan}'
	},
	'had-another': {
		subject: 'You have {held} already',
		text: `You have paid {amount} for {plan}, and have {held}: of these one holds one at a time. The money goes back to you.\n\nThe button signs you in, and there you can move: what you have not used of {held} is taken off. ${ONCE}`,
		button: 'Your account'
	},
	'had-free': {
		subject: 'You have {held} already',
		text: `You asked for {plan}, and have {held}: of these one holds one at a time. Nothing was changed, and nothing is to be paid.\n\nThe button signs you in, and your account shows what you may move to. ${ONCE}`,
		button: 'Your account'
	},
	'card-expires': {
		subject: 'Your card for {plan} is nearly over',
		text: '{plan} is charged to the card ending in {ending}, which is good to {month}. Give another card in your account, so that {plan} stays open.',
		button: 'Change the card'
	},
	'renews-soon': {
		subject: 'On {day} {plan} goes on',
		text: 'On {day} we charge {amount} to your card for {plan}. You need not do anything.\n\nIf you do not want it any more, cancel it before that day in your account: what is paid stays open.',
		button: 'Your account'
	},
	'falls-due-soon': {
		subject: 'A payment for {plan} is due on {day}',
		text: 'On {day} a payment of {amount} for {plan} is due. We write to you on that day how to pay it.\n\nIf you do not want it any more, cancel it before that day in your account: what is paid stays open.',
		button: 'Your account'
	},
	refunded: {
		subject: '{amount} is on its way back to you',
		text: 'We refunded {amount} for {plan}. It arrives within some days, the way you paid. {plan} stays open as it was.\n\nThe credit note is in your account.',
		button: 'Your account'
	},
	'refunded-shut': {
		subject: '{amount} is on its way back to you',
		text: 'We refunded {amount} for {plan}. It arrives within some days, the way you paid. {plan} is closed now, and nothing more will be charged for it.\n\nThe credit note is in your account.',
		button: 'Your account'
	},
	renewed: {
		subject: '{plan} is renewed',
		text: 'We have received {amount}. {plan} stays open until {day}. The receipt is in your account.',
		button: 'Open {plan}'
	},
	finished: {
		subject: 'Everything is paid for {plan}',
		text: 'We have received the last payment of {amount}. Nothing more is due for {plan}. The receipt is in your account.',
		button: 'Open {plan}'
	},
	'payment-declined': {
		subject: 'The payment for {plan} was declined',
		text: 'Your card was declined for {amount}. We will try again in the next days; until then {plan} stays open.',
		button: 'Pay with another card'
	},
	'declined-shut': {
		subject: 'The payment for {plan} was declined',
		text: 'Your card was declined for {amount}, so {plan} is closed until the payment comes in. We will try again in the next days.',
		button: 'Pay with another card'
	},
	lapsed: {
		subject: '{plan} has ended',
		text: 'Your card was declined several times, so {plan} is closed now. You can buy it again at any time.',
		button: 'Buy again'
	},
	'lapsed-unpaid': {
		subject: '{plan} has ended',
		text: 'We have not received the payment of {amount}, so {plan} is closed now. You can buy it again at any time.',
		button: 'Buy again'
	},
	cancelled: {
		subject: '{plan} is cancelled',
		text: 'Nothing more will be charged. {plan} stays open until {day}, which you have paid.',
		button: 'Your account'
	},
	'cancelled-now': {
		subject: '{plan} is cancelled',
		text: '{plan} is closed now. Nothing more will be charged.',
		button: 'Your account'
	},
	rests: {
		subject: '{plan} is paused',
		text: '{plan} stays open until {day}, which you have paid. Nothing is charged while it is paused. You can go on at any time in your account.',
		button: 'Your account'
	},
	'goes-on': {
		subject: '{plan} goes on',
		text: 'The pause is taken back. The next payment of {amount} is due on {day}.',
		button: 'Open {plan}'
	},
	moved: {
		subject: 'You have {plan} now',
		text: '{plan} is open for you from now on, in place of what you had before.',
		button: 'Open {plan}'
	},
	lowered: {
		subject: 'You have {plan} now',
		text: '{plan} is open for you from now on, in place of what you had before. What you have paid until {day} pays for it; from then on it is {amount}.',
		button: 'Open {plan}'
	},
	'moves-later': {
		subject: '{plan} from {day} on',
		text: 'What you have stays open until {day}, which you have paid. From then on it is {plan}, for {amount}. Until then you can take that back in your account.',
		button: 'Your account'
	},
	'price-changes': {
		subject: '{plan} costs {amount} from {day} on',
		text: 'From {day} on we charge {amount} for {plan}. Until then nothing changes for you, and you need not do anything.\n\nIf you do not want it at that price, cancel it before that day in your account: what is paid stays open.',
		button: 'Your account'
	},
	stays: {
		subject: '{plan} stays',
		text: '{plan} goes on as it was: the change is taken back. The next payment of {amount} is due on {day}.',
		button: 'Your account'
	},
	resumed: {
		subject: '{plan} goes on',
		text: 'Your cancellation is taken back. The next payment of {amount} is due on {day}.',
		button: 'Open {plan}'
	}
} as const satisfies Record<string, MailText>;

export type MailKey = keyof typeof MAIL;
export const MAIL_KEYS = Object.keys(MAIL) as MailKey[];

/** What each mail may speak of. */
export const MAIL_NAMES: Record<MailKey, readonly string[]> = {
	'sign-in': ['site'],
	join: ['site'],
	invitation: ['site'],
	'invitation-plan': ['site', 'plan'],
	staff: ['site'],
	'new-address': ['site'],
	'address-taken': ['site'],
	'address-changed': ['site', 'address'],
	'code-asked': ['site'],
	'code-not-asked': ['site'],
	'recovery-code-used': ['site', 'count'],
	told: ['site', 'count'],
	'told-daily': ['site', 'count'],
	order: ['site', 'plan', 'amount', 'number', 'statement'],
	'gift-bought': ['site', 'plan', 'address', 'day', 'amount', 'number', 'statement'],
	gift: ['site', 'plan', 'giver'],
	'order-later': ['site', 'plan', 'amount', 'number', 'day', 'statement'],
	'joined-later': ['site', 'plan', 'day'],
	reminder: ['site', 'plan'],
	seat: ['site', 'plan', 'giver'],
	wait: ['site', 'plan'],
	'on-sale': ['site', 'plan'],
	'joined-plan': ['site', 'plan'],
	'join-plan': ['site', 'plan'],
	'order-pay': ['site', 'plan', 'amount', 'number', 'how', 'day'],
	'order-confirm': ['site', 'plan', 'amount', 'number', 'how', 'day'],
	'order-refused': ['site', 'plan', 'amount', 'number', 'why'],
	'to-pay': ['site', 'plan', 'amount', 'number', 'how', 'day'],
	'had-already': ['site', 'plan', 'amount', 'number', 'statement'],
	'had-another': ['site', 'plan', 'amount', 'held'],
	'had-free': ['site', 'plan', 'held'],
	'card-expires': ['site', 'plan', 'ending', 'month'],
	'renews-soon': ['site', 'plan', 'amount', 'day'],
	'falls-due-soon': ['site', 'plan', 'amount', 'day'],
	refunded: ['site', 'plan', 'amount', 'number'],
	'refunded-shut': ['site', 'plan', 'amount', 'number'],
	renewed: ['site', 'plan', 'amount', 'day'],
	finished: ['site', 'plan', 'amount', 'day'],
	'payment-declined': ['site', 'plan', 'amount', 'day'],
	'declined-shut': ['site', 'plan', 'amount', 'day'],
	lapsed: ['site', 'plan', 'amount', 'day'],
	'lapsed-unpaid': ['site', 'plan', 'amount', 'day'],
	cancelled: ['site', 'plan', 'amount', 'day'],
	'cancelled-now': ['site', 'plan', 'amount', 'day'],
	rests: ['site', 'plan', 'amount', 'day'],
	'goes-on': ['site', 'plan', 'amount', 'day'],
	moved: ['site', 'plan', 'amount', 'day'],
	lowered: ['site', 'plan', 'amount', 'day'],
	'moves-later': ['site', 'plan', 'amount', 'day'],
	'price-changes': ['site', 'plan', 'amount', 'day'],
	stays: ['site', 'plan', 'amount', 'day'],
	resumed: ['site', 'plan', 'amount', 'day']
};

/** What they are called at the Desk. */
export const MAIL_TITLES: Record<MailKey, string> = {
	'sign-in': 'Signing in by mail',
	join: 'A free account',
	invitation: 'Let in by you',
	'invitation-plan': 'Let in by you, with a plan',
	staff: 'Made a member of staff',
	'new-address': 'Another address: to be proved',
	'address-taken': 'Another address: it has an account already',
	'address-changed': 'Another address: to the one before',
	'code-asked': 'A code is asked for when signing in',
	'code-not-asked': 'No code is asked for any more',
	'recovery-code-used': 'Signed in with a recovery code',
	told: 'To staff: what has just happened',
	'told-daily': 'To staff: the day',
	order: 'After buying',
	'gift-bought': 'After buying a gift',
	gift: 'A gift: to whom it is for',
	'order-later': 'Bought, and it begins on a day to come',
	'joined-later': 'Joined for nothing, and it begins on a day to come',
	reminder: 'A member began to buy and did not pay',
	seat: 'A seat of what somebody bought for several people',
	wait: 'Somebody wants to wait for a plan: the link that proves the address',
	'on-sale': 'A plan is sold, to whoever waits for it',
	'joined-plan': 'Joined for nothing',
	'join-plan': 'Joining for nothing: the way in',
	'order-pay': 'Order without a card: how to pay',
	'order-confirm': 'Order without a card: to be confirmed',
	'order-refused': 'Order without a card: not taken',
	'to-pay': 'Paid without a card: a payment is due',
	'had-already': 'Bought what was held already',
	'had-another': 'Bought another rung of what is held',
	'had-free': 'Joined for nothing what another rung is held of',
	'card-expires': 'Card nearly over',
	'renews-soon': 'A payment for a long time, or for more, comes soon',
	'falls-due-soon': 'The same, paid without a card',
	refunded: 'Refunded, open as before',
	'refunded-shut': 'Refunded, closed now',
	renewed: 'Renewed',
	finished: 'The last instalment is paid',
	'payment-declined': 'Card declined',
	'declined-shut': 'Card declined, closed until it is paid',
	lapsed: 'Ended, because the card was declined',
	'lapsed-unpaid': 'Paid without a card: ended, because no payment came in',
	cancelled: 'Cancelled, open to the end of what is paid',
	'cancelled-now': 'Cancelled, closed now',
	rests: 'Paused',
	'goes-on': 'Pause taken back',
	moved: 'Moved to another plan or price',
	lowered: 'Moved down at once',
	'moves-later': 'To be moved at the end of what is paid',
	'price-changes': 'The price is another one soon',
	stays: 'Move taken back',
	resumed: 'Cancellation taken back'
};

/** Rows of the table of what was bought, and what stands below. */
export const MAIL_PARTS = {
	order: 'Order',
	plan: 'Plan',
	paid: 'Paid',
	openUntil: 'Open until',
	nextPayment: 'Next payment',
	account: 'Your account',
	noMore: 'No more reminders like this one',
	imprint: 'Imprint',
	terms: 'Terms',
	privacy: 'Privacy',
	withdrawal: 'Right of withdrawal',
	contact: 'Contact',
	byHand: 'If the button does nothing, open this address:'
} as const;

export type MailPart = keyof typeof MAIL_PARTS;

/** What staff are told of, a line each. */
export const TOLD = {
	'granted-plan': '{who} joined {plan}',
	granted: '{who} joined',
	'subscription-resume': '{who} took a cancellation back',
	'subscription-cancel': '{who} cancelled',
	'subscription-declined': '{who} had a card declined',
	'subscription-ended': '{who} lapsed: what was due was not paid',
	'subscription-moved': '{who} moved to {plan}',
	'subscription-lowered': '{who} went down to {plan}',
	'payment-refunded': '{who} got a payment back',
	'deleted-member': 'A member was deleted',
	'ran-out': '{who} lapsed: {plan} ran out',
	'payment-disputed': '{who} disputed a payment, and access has ended',
	'payment-won': 'A dispute of {who} is won: the payment counts again',
	'payment-lost': 'A dispute of {who} is lost: the money stays with the bank',
	'failed-file': 'A file could not be prepared or taken in',
	'failed-mail': 'A mail could not be sent',
	'failed-call': 'A program could not be told of something',
	'failed-money': 'Something about a payment failed',
	somebody: 'Somebody',
	'a-plan': 'a plan',
	more: 'and {count} more'
} as const;

export type ToldKey = keyof typeof TOLD;
