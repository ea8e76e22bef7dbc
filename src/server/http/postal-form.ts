/** A postal address as it is typed, at the checkout and at the Desk. What is wrong is said by keys of the front's words. */
import { IsIn, IsNotEmpty, MaxLength } from 'class-validator';
import { COUNTRIES } from '$core/text/countries';
import { MOST_OF_POSTAL_PART, type Postal } from '$core/text/postal';

export class PostalForm {
	@MaxLength(MOST_OF_POSTAL_PART, { message: 'form.postal-long' })
	@IsNotEmpty({ message: 'form.postal-name' })
	postalName = '';

	@MaxLength(MOST_OF_POSTAL_PART, { message: 'form.postal-long' })
	postalMore = '';

	@MaxLength(MOST_OF_POSTAL_PART, { message: 'form.postal-long' })
	@IsNotEmpty({ message: 'form.postal-street' })
	postalStreet = '';

	@MaxLength(MOST_OF_POSTAL_PART, { message: 'form.postal-long' })
	postalCode = '';

	@MaxLength(MOST_OF_POSTAL_PART, { message: 'form.postal-long' })
	@IsNotEmpty({ message: 'form.postal-city' })
	postalCity = '';

	@MaxLength(MOST_OF_POSTAL_PART, { message: 'form.postal-long' })
	postalRegion = '';

	@IsIn([...COUNTRIES], { message: 'form.postal-country' })
	postalCountry = '';
}

/** The address as one. */
export function postalIn(form: PostalForm): Postal {
	return {
		...{ name: form.postalName, more: form.postalMore, street: form.postalStreet },
		...{ postcode: form.postalCode, city: form.postalCity, region: form.postalRegion },
		country: form.postalCountry
	};
}
