// Before anything is painted, so that a dark desk never flashes white.
(() => {
  const chosen = localStorage.getItem("kb_theme");
  const dark = chosen ? chosen === "dark" : matchMedia("(prefers-color-scheme: dark)").matches;
  document.documentElement.dataset.theme = dark ? "dark" : "light";
})();
