<svelte:head><title>Library · Desk</title></svelte:head>
