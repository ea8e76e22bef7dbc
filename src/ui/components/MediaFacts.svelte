<script lang="ts">
	/** What was read from the file. */
	import type { MediaFacts } from '$core/media/facts';
	import { formatBytes, formatLength } from '$ui/wording/time';

	let {
		asset
	}: {
		asset: {
			kind: 'video' | 'audio' | 'file';
			fileName: string;
			mediaType: string;
			bytes: number;
			seconds: number;
			width: number;
			height: number;
			facts: MediaFacts | null;
		};
	} = $props();

	const facts = $derived(asset.facts);
	const shape = $derived(
		[
			formatBytes(asset.bytes),
			asset.seconds > 0 ? formatLength(asset.seconds) : '',
			asset.width > 0 ? `${asset.width} × ${asset.height}` : '',
			facts?.pages ? (facts.pages === 1 ? '1 page' : `${facts.pages} pages`) : ''
		].filter((part) => part !== '')
	);
</script>

<dl class="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1 text-sm">
	<dt class="text-quiet">File</dt>
	<dd class="break-all"><bdi>{asset.fileName}</bdi></dd>
	<dt class="text-quiet">Size</dt>
	<dd>{shape.join(', ')}</dd>
	<dt class="text-quiet">Content</dt>
	<dd>
		{asset.mediaType}{#if facts?.codecs && facts.codecs.length > 0}, {facts.codecs.join(' and ')}{/if}
	</dd>
	{#if facts?.loudness}
		<dt class="text-quiet">Loudness</dt>
		<dd>{facts.loudness.integrated.toFixed(1)} LUFS, peak {facts.loudness.peak.toFixed(1)} dBTP</dd>
	{/if}
</dl>
