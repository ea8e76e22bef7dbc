<script lang="ts">
	import { enhance } from '$app/forms';
	import { optionsOf } from '$ui/fields/labelled';
	import SelectField from '$ui/fields/SelectField.svelte';
	import ChecksField from '$ui/fields/ChecksField.svelte';
	import CodeOff from '$ui/components/CodeOff.svelte';
	import Confirm from '$ui/parts/Confirm.svelte';
	import SwitchField from '$ui/fields/SwitchField.svelte';
	import ErrorSummary from '$ui/components/ErrorSummary.svelte';
	import TextField from '$ui/fields/TextField.svelte';
	import Saved from '$ui/components/Saved.svelte';
	import { PERMISSION_WORDS } from '$ui/wording/staff';

	let { data, form } = $props();

	const part = $derived(form && 'part' in form ? form.part : null);
	const saved = $derived(form && 'saved' in form ? form.saved : null);
	const errors = $derived((form && 'errors' in form ? form.errors : null) ?? {});
	const values = $derived((form && 'values' in form ? form.values : null) ?? {});
	const of = (name: string) => (part === name ? errors : {});
	const typed = (name: string) => (part === 'invite' ? String(values[name] ?? '') : '');
	const posts = $derived([...optionsOf(data.roles), { value: 'owner', label: 'Owner: everything' }]);
	const keep =
		() =>
		({ update }: { update: (how: { reset: boolean }) => Promise<void> }) =>
			update({ reset: false });
</script>

<svelte:head><title>Staff · Settings · Desk</title></svelte:head>

<h1 class="sr-only">Staff and roles</h1>
<div class="grid items-start gap-5 @4xl:grid-cols-2">
	<div class="grid gap-5">
		<section class="sheet grid gap-3 p-6 pt-7" aria-labelledby="people">
			<h2 id="people">Who works here</h2>
			{#if part === 'staff'}<Saved text={saved} /><ErrorSummary {errors} />{/if}
			<ul id="staff" class="divide-y divide-line">
				{#each data.staff as one (one.id)}
					<li class="grid gap-2 py-3">
						<div class="flex flex-wrap items-baseline justify-between gap-x-3">
							<span class="font-medium">{one.name}{one.id === data.ownId ? ' (you)' : ''}</span>
							<span class="text-sm text-quiet"
								>{one.email}{one.hasCome ? '' : ', invited, not come yet'}{one.hasCode
									? ', signs in with a code'
									: ''}</span
							>
						</div>
						<div class="flex flex-wrap items-center gap-2">
							<form
								method="post"
								action="?/post"
								class="flex flex-wrap items-center gap-2"
								use:enhance={keep}
							>
								<input type="hidden" name="account" value={one.id} />
								<SelectField
									label="What {one.name} may do"
									hidesLabel
									id="post-{one.id}"
									name="post"
									class="w-60"
									options={posts}
									from={one.role === 'owner' ? 'owner' : (one.roleId ?? '')}
								/>
								<button class="button-quiet">Change</button>
							</form>
							<Confirm
								label="Take out"
								title="Take {one.name} out of the staff?"
								what="The Desk closes for {one.name} at once. What {one.name} has bought stays."
								action="?/post"
								confirmLabel="Take out of the staff"
							>
								<input type="hidden" name="account" value={one.id} />
								<input type="hidden" name="post" value="" />
							</Confirm>
							{#if one.hasCode && one.id !== data.ownId}
								<CodeOff name={one.name} action="?/codeOff">
									<input type="hidden" name="account" value={one.id} />
								</CodeOff>
							{/if}
						</div>
					</li>
				{/each}
			</ul>
		</section>
		<form method="post" action="?/code" class="sheet grid gap-4 p-6 pt-7" use:enhance={keep}>
			<h2 id="code">A code when signing in</h2>
			{#if part === 'code'}<Saved text={saved} /><ErrorSummary {errors} />{/if}
			<SwitchField
				name="needCode"
				label="Whoever works here is asked for a code"
				hint="From an app on the phone, besides the password or the mailed link. Who has none yet sets it up before the Desk opens; recovery codes are for a phone that is lost."
				from={data.needCode}
			/>
			<div class="flex flex-wrap items-center gap-3">
				<button class="button-main">Save</button>
				<a href="/account/second">Your own code</a>
			</div>
		</form>
		<form method="post" action="?/invite" class="sheet grid gap-4 p-6 pt-7" novalidate use:enhance>
			<h2>Somebody else</h2>
			<ErrorSummary errors={of('invite')} />
			<TextField
				name="email"
				label="E-mail address"
				hint="The way in is sent there."
				errors={of('invite')}
				type="email"
				from={typed('email')}
			/>
			<TextField name="name" label="Name" errors={of('invite')} from={typed('name')} />
			<SelectField
				name="post"
				label="What they may do"
				errors={of('invite')}
				options={posts}
				from={typed('post')}
			/>
			<button class="button-main justify-self-start">Send the invitation</button>
		</form>
	</div>

	<section class="grid gap-5" aria-labelledby="roles">
		<h2 id="roles" class="sr-only">Roles</h2>
		{#each [...data.roles, { id: '', name: '', permissions: [], holders: 0 }] as role (role.id)}
			{@const own = `role ${role.id}`}
			<form
				method="post"
				action="?/role"
				class="sheet grid gap-3 p-6 pt-7"
				novalidate
				use:enhance={role.id ? keep : undefined}
			>
				<h3 class="text-lg font-semibold">{role.id ? role.name : 'A new role'}</h3>
				{#if part === own}<Saved text={saved} /><ErrorSummary {errors} />{/if}
				<input type="hidden" name="role" value={role.id} />
				<TextField
					label={role.id ? `Name of ${role.name}` : 'Name of the new role'}
					id={part === own ? 'roleName' : `roleName-${role.id}`}
					name="roleName"
					from={role.name}
				/>
				<ChecksField
					label="May"
					isList
					id="permissions-{role.id}"
					name="permissions"
					options={data.permissions.map((permission) => ({
						value: permission,
						label: PERMISSION_WORDS[permission]
					}))}
					from={[...(role.permissions as string[])]}
				/>
				<div class="flex flex-wrap items-center gap-3">
					<button class={role.id ? 'button-quiet' : 'button-main'}
						>{role.id ? 'Save the role' : 'Make the role'}</button
					>
					{#if role.id && role.holders === 0}
						<button class="button-quiet" formaction="?/removeRole">Remove it</button>
					{:else if role.id}
						<span class="text-sm text-quiet"
							>{role.holders === 1 ? 'One person holds it.' : `${role.holders} people hold it.`}</span
						>
					{/if}
				</div>
			</form>
		{/each}
	</section>
</div>
