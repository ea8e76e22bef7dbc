/* Puts a film of this site into a page: <div data-stile-film="…"></div> and this script. */
(() => {
	const origin = new URL(document.currentScript.src).origin;
	for (const place of document.querySelectorAll('[data-stile-film]')) {
		const frame = document.createElement('iframe');
		frame.src = `${origin}/embed/${encodeURIComponent(place.dataset.stileFilm)}`;
		frame.title = place.dataset.title ?? 'Film';
		frame.allow = 'fullscreen; picture-in-picture';
		frame.allowFullscreen = true;
		frame.referrerPolicy = 'origin';
		frame.style.cssText = 'display:block;width:100%;aspect-ratio:16/10;border:0';
		place.replaceChildren(frame);
	}
})();
