<script lang="ts">
	import {
		CalendarDate,
		CalendarDateTime,
		parseDate,
		parseDateTime,
		type DateValue
	} from '@internationalized/date';
	import CalendarDays from '@lucide/svelte/icons/calendar-days';
	import ChevronLeft from '@lucide/svelte/icons/chevron-left';
	import ChevronRight from '@lucide/svelte/icons/chevron-right';
	import { DatePicker } from 'bits-ui';
	import { page } from '$app/state';
	import Field from './Field.svelte';
	import Sent from './Sent.svelte';
	import { held } from './held.svelte';
	import type { Labelled } from './labelled';

	/** A day, or a day and a time, as they are on the publisher's clocks. */
	let {
		from,
		value = $bindable(''),
		to = 'minute',
		...labelled
	}: Labelled & {
		/** What it begins with, and follows where that becomes another; left out: it is bound. */
		from?: string | undefined;
		/** `2026-07-07T10:00`, or `2026-07-07` where it is a day; empty while it is not whole. */
		value?: string;
		to?: 'day' | 'minute';
	} = $props();

	const it = held(() => from, { get: () => value, set: (typed) => (value = typed) });

	const EMPTY_TIME = 'T00:00';
	const site = $derived(page.data.site as { zone: string; locale: string; today: string });
	const placeholder = $derived<DateValue>(
		to === 'day' ? parseDate(site.today) : parseDateTime(site.today + EMPTY_TIME)
	);

	function read(text: string): DateValue | undefined {
		try {
			if (text === '') return undefined;
			return to === 'day' ? parseDate(text.slice(0, 10)) : parseDateTime(text);
		} catch {
			return undefined;
		}
	}
	function written(date: DateValue | undefined): string {
		if (date instanceof CalendarDateTime) return date.toString().slice(0, 16);
		return date instanceof CalendarDate ? date.toString() + (to === 'day' ? '' : EMPTY_TIME) : '';
	}
</script>

<Field {...labelled}>
	{#snippet children(_, { id: own, labelId, isWrong, describedBy })}
		<Sent
			name={labelled.name}
			value={it.current}
			onReset={() => (it.current = it.first)}
			onPutIn={([put = '']) => (it.current = put)}
		/>
		<DatePicker.Root
			bind:value={() => read(it.current), (date) => (it.current = written(date))}
			{placeholder}
			granularity={to}
			hourCycle={24}
			locale={site.locale}
			weekdayFormat="short"
			fixedWeeks
			hideTimeZone
		>
			<span class="flex flex-wrap items-center gap-2">
				<DatePicker.Input
					id={own}
					class="input flex w-auto items-center pr-1"
					aria-labelledby={labelId}
					aria-invalid={isWrong || undefined}
					aria-describedby={describedBy}
				>
					{#snippet children({ segments })}
						{#each segments as { part, value: words }, n (n)}
							{#if part === 'literal'}<span class="whitespace-pre text-quiet" aria-hidden="true">{words}</span
								>
							{:else}<DatePicker.Segment {part} class="segment">{words}</DatePicker.Segment>{/if}
						{/each}
						<DatePicker.Trigger
							class="ml-2 cursor-pointer rounded-sheet p-1 text-quiet hover:bg-moss-wash hover:text-ink"
							aria-label="{labelled.label}, calendar"><CalendarDays size={16} /></DatePicker.Trigger
						>
					{/snippet}
				</DatePicker.Input>
				{#if to === 'minute'}<span class="text-sm text-quiet">{site.zone}</span>{/if}
			</span>
			<DatePicker.Portal>
				<DatePicker.Content class="floating p-3" sideOffset={6} collisionPadding={8}>
					<DatePicker.Calendar>
						{#snippet children({ months, weekdays })}
							<DatePicker.Header class="mb-2 flex items-center justify-between">
								<DatePicker.PrevButton class="calendar-step"><ChevronLeft size={16} /></DatePicker.PrevButton>
								<DatePicker.Heading class="font-medium" />
								<DatePicker.NextButton class="calendar-step"><ChevronRight size={16} /></DatePicker.NextButton
								>
							</DatePicker.Header>
							{#each months as month (month.value.toString())}
								<DatePicker.Grid class="border-collapse">
									<DatePicker.GridHead>
										<DatePicker.GridRow>
											{#each weekdays as weekday (weekday)}<DatePicker.HeadCell
													class="w-9 pb-1 text-center text-sm font-normal text-quiet"
													>{weekday.slice(0, 2)}</DatePicker.HeadCell
												>{/each}
										</DatePicker.GridRow>
									</DatePicker.GridHead>
									<DatePicker.GridBody>
										{#each month.weeks as week, n (n)}
											<DatePicker.GridRow>
												{#each week as date (date.toString())}
													<DatePicker.Cell {date} month={month.value} class="p-0 text-center">
														<DatePicker.Day class="calendar-day" />
													</DatePicker.Cell>
												{/each}
											</DatePicker.GridRow>
										{/each}
									</DatePicker.GridBody>
								</DatePicker.Grid>
							{/each}
						{/snippet}
					</DatePicker.Calendar>
				</DatePicker.Content>
			</DatePicker.Portal>
		</DatePicker.Root>
	{/snippet}
</Field>
