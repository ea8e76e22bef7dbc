/** What mails say in German. */
import type { MailKey, MailPart, MailText, ToldKey } from '../en/mail';

const ONCE = 'Er geht auf jedem Gerät, einmal, 14 Tage lang.';

export const MAIL: Record<MailKey, MailText> = {
	'sign-in': {
		subject: 'Anmelden bei {site}',
		text: `Drücken Sie den Knopf, und dann den auf der Seite, die sich öffnet: Sie sind auf dem Gerät angemeldet, mit dem Sie ihn öffnen. ${ONCE}\n\nWenn Sie das nicht wollten, lassen Sie es: Öffnen allein bewirkt nichts.`,
		button: 'Anmelden'
	},
	join: {
		subject: 'Ihr Konto bei {site}',
		text: `Drücken Sie den Knopf, und dann den auf der Seite, die sich öffnet: Ihr kostenloses Konto wird angelegt, und Sie sind angemeldet. ${ONCE}\n\nWenn Sie das nicht wollten, lassen Sie es: Es wird nichts angelegt.`,
		button: 'Mein Konto anlegen'
	},
	invitation: {
		subject: 'Sie sind eingelassen bei {site}',
		text: `Für Sie wurde ein Konto angelegt.\n\nDer Knopf meldet Sie an. ${ONCE}`,
		button: 'Anmelden'
	},
	'invitation-plan': {
		subject: 'Sie sind eingelassen bei {site}',
		text: `Sie haben {plan} bekommen.\n\nDer Knopf meldet Sie an und öffnet es. ${ONCE}`,
		button: '{plan} öffnen'
	},
	staff: {
		subject: 'Sie arbeiten jetzt am Pult von {site}',
		text: `Der Knopf meldet Sie am Pult an. ${ONCE} Ein Passwort können Sie in Ihrem Konto setzen.`,
		button: 'Am Pult anmelden'
	},
	'new-address': {
		subject: 'Ihre neue Adresse bei {site}',
		text: 'Diese Adresse soll zu einem Konto bei {site} gehören. Drücken Sie den Knopf und dann den auf der Seite, die sich öffnet: Von da an schreiben wir hierher, und Sie melden sich mit ihr an. Er gilt zwei Tage.\n\nWenn Sie nicht darum gebeten haben, lassen Sie es: Es wird nichts geändert.',
		button: 'Diese Adresse verwenden'
	},
	'address-taken': {
		subject: 'Zu dieser Adresse gibt es bei {site} ein Konto',
		text: 'Jemand wollte diese Adresse bei {site} für ein anderes Konto verwenden. Sie hat schon eines, und es wurde nichts geändert.\n\nWenn Sie es waren: Der Knopf meldet Sie in jenem Konto an. Wenn nicht, lassen Sie es.',
		button: 'Anmelden'
	},
	'address-changed': {
		subject: 'Ihre Adresse bei {site} wurde geändert',
		text: 'Von jetzt an schreiben wir an {address} und nicht mehr hierher.\n\nWenn Sie das nicht waren, drücken Sie innerhalb von 14 Tagen den Knopf: Die Adresse wird zurückgestellt, alle werden abgemeldet, und Sie melden sich mit einem Link aus einer Mail an.',
		button: 'Das war ich nicht'
	},
	'code-asked': {
		subject: 'Bei der Anmeldung bei {site} wird nach einem Code gefragt',
		text: 'Von jetzt an wird, wer sich in Ihrem Konto bei {site} anmeldet, auch nach einem Code aus Ihrer App gefragt. Alle anderen Geräte wurden abgemeldet.\n\nWenn Sie das nicht waren, antworten Sie auf diese Mail.',
		button: 'In Ihrem Konto ansehen'
	},
	'code-not-asked': {
		subject: 'Bei {site} wird nach keinem Code mehr gefragt',
		text: 'Von jetzt an genügt bei {site} Ihr Passwort oder ein gemailter Link, ohne Code aus Ihrer App.\n\nWenn Sie das nicht waren, antworten Sie auf diese Mail.',
		button: 'In Ihrem Konto ansehen'
	},
	'recovery-code-used': {
		subject: 'Ein Ersatzcode hat Sie bei {site} angemeldet',
		text: 'Jemand hat sich in Ihrem Konto bei {site} mit einem Ihrer Ersatzcodes angemeldet. Übrige Ersatzcodes: {count}. In Ihrem Konto können Sie neue machen.\n\nWenn Sie das nicht waren, ändern Sie dort Ihr Passwort und machen Sie neue Codes.',
		button: 'In Ihrem Konto ansehen'
	},
	told: {
		subject: '{site}: eben geschehen ({count})',
		text: 'Das ist eben geschehen. Es steht auch am Pult, unter Today.\n\nWie Sie davon erfahren, und wovon, wählen Sie in den Einstellungen, unter „Mails to you“.',
		button: 'Today öffnen'
	},
	'told-daily': {
		subject: '{site}: der Tag ({count})',
		text: 'Das ist seit der letzten Tagesmail geschehen. Es steht auch am Pult, unter Today.\n\nWie Sie davon erfahren, und wovon, wählen Sie in den Einstellungen, unter „Mails to you“.',
		button: 'Today öffnen'
	},
	order: {
		subject: '{plan} ist für Sie offen',
		text: `Danke. {plan} ist von jetzt an für Sie offen.\n\nDer Knopf meldet Sie an und öffnet es. ${ONCE}\n\nAuf Ihrer Kartenabrechnung steht die Zahlung als {statement}. Ihre Belege stehen in Ihrem Konto.`,
		button: '{plan} öffnen'
	},
	'order-later': {
		subject: '{plan} gehört Ihnen: Es beginnt am {day}',
		text: `Danke. {plan} beginnt für alle am {day} und öffnet sich dann für Sie. Bis dahin steht es in Ihrem Konto.\n\nDer Knopf meldet Sie an. ${ONCE}\n\nAuf Ihrer Kartenabrechnung steht die Zahlung als {statement}. Ihre Belege finden Sie in Ihrem Konto.`,
		button: 'Ihr Konto'
	},
	reminder: {
		subject: 'Sie wollten {plan} kaufen',
		text: `Sie haben bei {site} begonnen, {plan} zu kaufen, und nicht bezahlt: Es wurde nichts abgebucht. Wenn Sie es noch möchten, meldet der Knopf Sie an, und Sie machen dort weiter, wo Sie waren. ${ONCE}\n\nWenn nicht, lassen Sie diese Mail liegen: Es kommt keine weitere dazu.`,
		button: 'Weitermachen'
	},
	seat: {
		subject: '{giver} hat einen Platz für Sie: {plan}',
		text: `{giver} hat {plan} bei {site} für mehrere gekauft und hält einen Platz für Sie frei.\n\nDer Knopf meldet Sie an, und dort nehmen Sie ihn. ${ONCE}\n\nMöchten Sie ihn nicht, dann lassen Sie es: Es wird nichts für Sie geöffnet.`,
		button: 'Den Platz ansehen'
	},
	wait: {
		subject: 'Sollen wir Ihnen sagen, wann {plan} zu kaufen ist?',
		text: 'Jemand hat diese Adresse bei {site} eingegeben, um zu erfahren, wann {plan} zu kaufen ist. Waren Sie es, dann drücken Sie den Knopf und danach den auf der Seite, die sich öffnet: Wir schreiben Ihnen einmal, wenn es so weit ist, und über nichts anderes.\n\nWaren Sie es nicht, dann lassen Sie es: Es kommt nichts mehr.',
		button: 'Ja, sagen Sie es mir'
	},
	'on-sale': {
		subject: '{plan} ist zu kaufen',
		text: 'Sie wollten es wissen: {plan} ist von jetzt an bei {site} zu kaufen.\n\nDas war die eine Mail darüber.',
		button: '{plan} kaufen'
	},
	'gift-bought': {
		subject: 'Ihr Geschenk: {plan}',
		text: `Danke. {plan} ist für {address} bezahlt. Am {day} schreiben wir dorthin: Es öffnet sich, sobald es dort geöffnet wird.\n\nIn Ihrem Konto sehen Sie, ob das geschehen ist, und können die Adresse ändern. Der Knopf meldet Sie an. ${ONCE}\n\nAuf Ihrer Kartenabrechnung steht die Zahlung als {statement}.`,
		button: 'In Ihrem Konto ansehen'
	},
	gift: {
		subject: '{giver} schenkt Ihnen {plan}',
		text: `{giver} hat {plan} bei {site} für Sie gekauft.\n\nDer Knopf meldet Sie an und zeigt es. Es öffnet sich, wenn Sie es dort öffnen, und nicht vorher: Wenn Sie warten, geht nichts davon verloren. ${ONCE}`,
		button: 'Geschenk ansehen'
	},
	'joined-plan': {
		subject: '{plan} ist für Sie offen',
		text: `{plan} ist ab jetzt für Sie offen.\n\nDer Knopf meldet Sie an und öffnet ihn. ${ONCE}`,
		button: '{plan} öffnen'
	},
	'joined-later': {
		subject: '{plan} gehört Ihnen: Es beginnt am {day}',
		text: `{plan} beginnt für alle am {day} und öffnet sich dann für Sie. Bis dahin steht es in Ihrem Konto.\n\nDer Knopf meldet Sie an. ${ONCE}`,
		button: 'Ihr Konto'
	},
	'join-plan': {
		subject: '{plan} öffnen',
		text: `{plan} wartet auf Sie. Drücken Sie den Knopf und dann den auf der Seite, die sich öffnet: Sie sind angemeldet, und es ist offen. ${ONCE}\n\nWenn Sie das nicht wollten, lassen Sie es: Öffnen allein bewirkt nichts.`,
		button: '{plan} öffnen'
	},
	'order-pay': {
		subject: 'So bezahlen Sie {plan}',
		text: 'Danke für Ihre Bestellung {number}. Bezahlen Sie {amount} so:\n\n{how}\n\nNennen Sie dabei die Bestellung {number}. {plan} öffnet sich, sobald das Geld da ist, und wir schreiben Ihnen dann. Die Bestellung wartet bis {day}.',
		button: 'Ihre Bestellung'
	},
	'order-confirm': {
		subject: 'Bestätigen Sie Ihre Bestellung von {plan}',
		text: `Mit dieser Adresse wurde {plan} um {amount} bestellt. Drücken Sie den Knopf und dann den auf der Seite, die sich öffnet, damit wir wissen, dass Sie es waren: Bis dahin sieht niemand die Bestellung an. ${ONCE}\n\nBezahlen Sie dann so:\n\n{how}\n\nNennen Sie dabei die Bestellung {number}. {plan} öffnet sich, sobald das Geld da ist. Die Bestellung wartet bis {day}.\n\nWenn Sie es nicht waren, lassen Sie es: Es geschieht nichts.`,
		button: 'Das war ich'
	},
	'order-refused': {
		subject: 'Ihre Bestellung {number} ist zu Ende',
		text: 'Wir haben die Bestellung von {plan} um {amount} nicht angenommen: Nichts ist offen, und nichts ist zu bezahlen.\n\n{why}\n\nWenn Sie schon bezahlt haben oder das falsch ist, antworten Sie auf diese Mail.',
		button: '{plan} ansehen'
	},
	'to-pay': {
		subject: '{amount} für {plan} sind fällig',
		text: 'Die nächste Zahlung von {amount} ist fällig. Bezahlen Sie sie so:\n\n{how}\n\nNennen Sie dabei die Bestellung {number}. {plan} bleibt bis {day} offen; kommt das Geld später, öffnet es sich dann wieder.',
		button: 'So wird bezahlt'
	},
	'had-already': {
		subject: 'Sie hatten {plan} schon',
		text: `Sie haben {amount} für {plan} bezahlt, das Sie schon hatten. Das Geld geht an Sie zurück.\n\nDer Knopf meldet Sie an und öffnet es. ${ONCE}`,
		button: '{plan} öffnen'
	},
	'had-another': {
		subject: 'Sie haben schon {held}',
		text: `Sie haben {amount} für {plan} bezahlt und haben {held}: Davon hat man immer nur eines. Das Geld geht an Sie zurück.\n\nDer Knopf meldet Sie an, und dort können Sie wechseln: Was Sie von {held} noch nicht genutzt haben, wird abgezogen. ${ONCE}`,
		button: 'Ihr Konto'
	},
	'had-free': {
		subject: 'Sie haben schon {held}',
		text: `Sie wollten {plan} und haben {held}: Davon hat man immer nur eines. Es hat sich nichts geändert, und es ist nichts zu bezahlen.\n\nDer Knopf meldet Sie an, und Ihr Konto zeigt, wohin Sie wechseln können. ${ONCE}`,
		button: 'Ihr Konto'
	},
	'card-expires': {
		subject: 'Ihre Karte für {plan} läuft bald ab',
		text: '{plan} wird von der Karte abgebucht, die auf {ending} endet und bis {month} gültig ist. Hinterlegen Sie in Ihrem Konto eine andere, damit {plan} offen bleibt.',
		button: 'Karte wechseln'
	},
	'renews-soon': {
		subject: '{plan} geht am {day} weiter',
		text: 'Am {day} buchen wir {amount} für {plan} von Ihrer Karte ab. Sie brauchen nichts zu tun.\n\nWenn Sie es nicht mehr möchten, kündigen Sie vor diesem Tag in Ihrem Konto: Was bezahlt ist, bleibt offen.',
		button: 'Ihr Konto'
	},
	'falls-due-soon': {
		subject: 'Am {day} wird eine Zahlung für {plan} fällig',
		text: 'Am {day} wird eine Zahlung von {amount} für {plan} fällig. Wir schreiben Ihnen an diesem Tag, wie Sie zahlen.\n\nWenn Sie es nicht mehr möchten, kündigen Sie vor diesem Tag in Ihrem Konto: Was bezahlt ist, bleibt offen.',
		button: 'Ihr Konto'
	},
	refunded: {
		subject: '{amount} sind auf dem Weg zu Ihnen zurück',
		text: 'Wir haben {amount} für {plan} zurückgezahlt. Der Betrag kommt in einigen Tagen auf dem Weg an, auf dem Sie bezahlt haben. {plan} bleibt offen, wie es war.\n\nDie Gutschrift steht in Ihrem Konto.',
		button: 'Ihr Konto'
	},
	'refunded-shut': {
		subject: '{amount} sind auf dem Weg zu Ihnen zurück',
		text: 'Wir haben {amount} für {plan} zurückgezahlt. Der Betrag kommt in einigen Tagen auf dem Weg an, auf dem Sie bezahlt haben. {plan} ist jetzt geschlossen, und dafür wird nichts mehr abgebucht.\n\nDie Gutschrift steht in Ihrem Konto.',
		button: 'Ihr Konto'
	},
	renewed: {
		subject: '{plan} ist verlängert',
		text: '{amount} sind eingegangen. {plan} bleibt offen bis {day}. Der Beleg steht in Ihrem Konto.',
		button: '{plan} öffnen'
	},
	finished: {
		subject: 'Für {plan} ist alles bezahlt',
		text: 'Die letzte Zahlung von {amount} ist eingegangen. Für {plan} ist nichts mehr offen. Der Beleg steht in Ihrem Konto.',
		button: '{plan} öffnen'
	},
	'payment-declined': {
		subject: 'Die Zahlung für {plan} wurde abgelehnt',
		text: 'Ihre Karte wurde für {amount} abgelehnt. Wir versuchen es in den nächsten Tagen noch einmal; bis dahin bleibt {plan} offen.',
		button: 'Mit anderer Karte zahlen'
	},
	'declined-shut': {
		subject: 'Die Zahlung für {plan} wurde abgelehnt',
		text: 'Ihre Karte wurde für {amount} abgelehnt. Deshalb ist {plan} geschlossen, bis die Zahlung eingeht. Wir versuchen es in den nächsten Tagen noch einmal.',
		button: 'Mit anderer Karte zahlen'
	},
	lapsed: {
		subject: '{plan} ist zu Ende',
		text: 'Ihre Karte wurde mehrmals abgelehnt, darum ist {plan} jetzt geschlossen. Sie können es jederzeit wieder kaufen.',
		button: 'Wieder kaufen'
	},
	'lapsed-unpaid': {
		subject: '{plan} ist zu Ende',
		text: 'Die Zahlung von {amount} ist nicht eingegangen, darum ist {plan} jetzt geschlossen. Sie können es jederzeit wieder kaufen.',
		button: 'Wieder kaufen'
	},
	cancelled: {
		subject: '{plan} ist gekündigt',
		text: 'Es wird nichts mehr abgebucht. {plan} bleibt offen bis {day}, so weit haben Sie bezahlt.',
		button: 'Ihr Konto'
	},
	'cancelled-now': {
		subject: '{plan} ist gekündigt',
		text: '{plan} ist jetzt geschlossen. Es wird nichts mehr abgebucht.',
		button: 'Ihr Konto'
	},
	rests: {
		subject: '{plan} macht Pause',
		text: '{plan} bleibt bis {day} offen, so lange ist bezahlt. In der Pause wird nichts abgebucht. In Ihrem Konto geht es jederzeit weiter.',
		button: 'Ihr Konto'
	},
	'goes-on': {
		subject: '{plan} geht weiter',
		text: 'Die Pause ist zurückgenommen. Die nächste Zahlung von {amount} ist am {day} fällig.',
		button: '{plan} öffnen'
	},
	moved: {
		subject: 'Sie haben jetzt {plan}',
		text: '{plan} ist ab jetzt für Sie offen, an Stelle dessen, was Sie bisher hatten.',
		button: '{plan} öffnen'
	},
	lowered: {
		subject: 'Sie haben jetzt {plan}',
		text: '{plan} ist ab jetzt für Sie offen, an Stelle dessen, was Sie bisher hatten. Was Sie bis {day} bezahlt haben, gilt dafür; von da an sind es {amount}.',
		button: '{plan} öffnen'
	},
	'moves-later': {
		subject: '{plan} ab {day}',
		text: 'Was Sie haben, bleibt bis {day} offen, so lange ist bezahlt. Von da an ist es {plan}, um {amount}. Bis dahin können Sie das in Ihrem Konto zurücknehmen.',
		button: 'Ihr Konto'
	},
	'price-changes': {
		subject: '{plan} kostet ab {day} {amount}',
		text: 'Ab {day} buchen wir {amount} für {plan} ab. Bis dahin ändert sich für Sie nichts, und Sie brauchen nichts zu tun.\n\nWenn Sie es zu diesem Preis nicht möchten, kündigen Sie vor diesem Tag in Ihrem Konto: Was bezahlt ist, bleibt offen.',
		button: 'Ihr Konto'
	},
	stays: {
		subject: '{plan} bleibt',
		text: '{plan} geht weiter wie bisher: Der Wechsel ist zurückgenommen. Die nächste Zahlung von {amount} ist am {day} fällig.',
		button: 'Ihr Konto'
	},
	resumed: {
		subject: '{plan} geht weiter',
		text: 'Ihre Kündigung ist zurückgenommen. Die nächste Zahlung von {amount} ist am {day} fällig.',
		button: '{plan} öffnen'
	}
};

export const MAIL_PARTS: Record<MailPart, string> = {
	order: 'Bestellung',
	plan: 'Plan',
	paid: 'Bezahlt',
	openUntil: 'Offen bis',
	nextPayment: 'Nächste Zahlung',
	account: 'Ihr Konto',
	noMore: 'Keine Erinnerungen wie diese mehr',
	imprint: 'Impressum',
	terms: 'AGB',
	privacy: 'Datenschutz',
	withdrawal: 'Widerrufsrecht',
	contact: 'Kontakt',
	byHand: 'Wenn der Knopf nichts bewirkt, öffnen Sie diese Adresse:'
};

export const TOLD: Record<ToldKey, string> = {
	'granted-plan': '{who} hat jetzt {plan}',
	granted: '{who} ist dazugekommen',
	'subscription-resume': '{who} hat eine Kündigung zurückgenommen',
	'subscription-cancel': '{who} hat gekündigt',
	'subscription-declined': 'Die Karte von {who} wurde abgelehnt',
	'subscription-ended': '{who} ist weg: Was fällig war, wurde nicht bezahlt',
	'subscription-moved': '{who} hat zu {plan} gewechselt',
	'subscription-lowered': '{who} ist zu {plan} hinuntergegangen',
	'payment-refunded': '{who} hat eine Zahlung zurückbekommen',
	'deleted-member': 'Ein Mitglied wurde gelöscht',
	'ran-out': '{plan} ist für {who} abgelaufen',
	'payment-disputed': '{who} hat eine Zahlung angefochten, und der Zugang ist zu Ende',
	'payment-won': 'Eine Anfechtung von {who} ist gewonnen: Die Zahlung zählt wieder',
	'payment-lost': 'Eine Anfechtung von {who} ist verloren: Das Geld bleibt bei der Bank',
	'failed-file': 'Eine Datei konnte nicht vorbereitet oder übernommen werden',
	'failed-mail': 'Eine Mail konnte nicht verschickt werden',
	'failed-call': 'Einem Programm konnte etwas nicht gesagt werden',
	'failed-money': 'Etwas mit einer Zahlung ist misslungen',
	somebody: 'Jemand',
	'a-plan': 'ein Plan',
	more: 'und {count} mehr'
};
