<script lang="ts">
	import LabelList from '$ui/components/LabelList.svelte';

	let { data } = $props();
</script>

<LabelList {...data.list} site={data.site} member={data.viewer?.name ?? null} path={data.path} />
