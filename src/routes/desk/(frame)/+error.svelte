<script lang="ts">
	import ErrorBox from '$ui/components/ErrorBox.svelte';
</script>

<ErrorBox ways={[{ href: '/desk', label: 'To Today' }]} />
