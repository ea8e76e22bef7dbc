import { IsEmail, IsIn, IsNotEmpty, IsUUID, Matches, MaxLength, ValidateIf } from 'class-validator';
import { PERMISSIONS } from '$core/staff/permissions';

const POST = /^(owner|[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})$/;

export class InviteForm {
	@MaxLength(254, { message: 'This address is too long.' })
	@IsEmail({}, { message: 'Type an e-mail address such as name@host.example: the way in is sent there.' })
	email = '';

	@MaxLength(120, { message: 'A name has at most 120 characters.' })
	@IsNotEmpty({ message: 'Type a name.' })
	name = '';

	@Matches(POST, { message: 'Choose what they may do.' })
	post = '';
}

export class PostForm {
	@IsUUID('all', { message: 'This account does not exist any more.' })
	account = '';

	/** Empty: out of the staff. */
	@ValidateIf((form: PostForm) => form.post !== '')
	@Matches(POST, { message: 'Choose what they may do.' })
	post = '';
}

export class RoleForm {
	@ValidateIf((form: RoleForm) => form.role !== '')
	@IsUUID('all', { message: 'This role does not exist any more.' })
	role = '';

	@MaxLength(60, { message: 'The name of a role has at most 60 characters.' })
	@IsNotEmpty({ message: 'Give the role a name.' })
	roleName = '';

	@IsIn(PERMISSIONS, { each: true, message: 'Choose what the role may do from the list.' })
	permissions: string[] = [];
}
