<script lang="ts">
	import AudioLines from '@lucide/svelte/icons/audio-lines';
	import BookOpen from '@lucide/svelte/icons/book-open';
	import Calendar from '@lucide/svelte/icons/calendar';
	import FileDown from '@lucide/svelte/icons/file-down';
	import FileText from '@lucide/svelte/icons/file-text';
	import Film from '@lucide/svelte/icons/film';
	import Folder from '@lucide/svelte/icons/folder';
	import GraduationCap from '@lucide/svelte/icons/graduation-cap';
	import Layers from '@lucide/svelte/icons/layers';
	import Link from '@lucide/svelte/icons/link';
	import Mic from '@lucide/svelte/icons/mic';
	import Rss from '@lucide/svelte/icons/rss';
	import type { Component } from 'svelte';
	import type { ResourceKind } from '$core/access/model';

	/** Stands beside the word for a kind. */
	let { kind }: { kind: ResourceKind } = $props();

	const ICONS: Record<ResourceKind, Component<{ size?: number | string; class?: string }>> = {
		video: Film,
		audio: AudioLines,
		file: FileDown,
		page: FileText,
		lesson: BookOpen,
		episode: Mic,
		event: Calendar,
		link: Link,
		course: GraduationCap,
		section: Layers,
		show: Rss,
		shelf: Folder
	};
	const Icon = $derived(ICONS[kind]);
</script>

<span class="shrink-0 text-quiet" aria-hidden="true"><Icon size={16} /></span>
