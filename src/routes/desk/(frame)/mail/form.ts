import { IsUUID } from 'class-validator';

export class JobForm {
	@IsUUID()
	jobId = '';
}

export class MemberForm {
	@IsUUID()
	memberId = '';
}
