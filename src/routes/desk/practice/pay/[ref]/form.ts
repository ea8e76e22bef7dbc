import { IsIn, Matches } from 'class-validator';
import { TEST_CARD_KINDS, type TestCardKind } from '$core/billing/test-cards';

export class CardForm {
	@IsIn(TEST_CARD_KINDS, { message: 'Choose a card.' })
	card = '' as TestCardKind;

	@Matches(/^([1-9]|[1-5]\d|60)$/, { message: 'Type how many renewals work, from 1 to 60.' })
	later = '1';

	@Matches(/^([A-Za-z]{2})?$/, {
		message: 'Type the two letters of a country, such as DE, or leave it empty.'
	})
	country = '';
}
