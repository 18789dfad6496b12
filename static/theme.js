// Runs before the first paint, so that a dark room never sees a white flash.
(function () {
  var kept = null;
  try {
    kept = localStorage.getItem('lectorum-theme');
  } catch {
    // Storage may be refused; the system's wish stands.
  }
  var dark = kept ? kept === 'lamp' : matchMedia('(prefers-color-scheme: dark)').matches;
  document.documentElement.setAttribute('data-theme', dark ? 'lamp' : 'chalk');
})();
