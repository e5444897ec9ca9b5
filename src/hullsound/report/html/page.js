// Filters the worklist and the objects; works from disk, asks nobody.
(function () {
  "use strict";
  var search = document.getElementById("search");
  var type = document.getElementById("type");
  var boxes = Array.prototype.slice.call(document.querySelectorAll("input[data-outcome]"));
  var rows = Array.prototype.slice.call(document.querySelectorAll("[data-row]"));
  var count = document.getElementById("count");

  function apply() {
    var words = search.value.toLowerCase().split(/\s+/).filter(Boolean);
    var wanted = {};
    boxes.forEach(function (box) { wanted[box.dataset.outcome] = box.checked; });
    var shown = 0;
    rows.forEach(function (row) {
      var text = row.dataset.text;
      var fits = wanted[row.dataset.row] && (!type.value || row.dataset.type === type.value) &&
        words.every(function (word) { return text.indexOf(word) >= 0; });
      row.hidden = !fits;
      if (fits && row.tagName === "TR") { shown += 1; }
    });
    count.textContent = shown + " objects";
  }

  function openTarget() {
    var goal = location.hash && document.getElementById(decodeURIComponent(location.hash.slice(1)));
    if (goal && goal.tagName === "DETAILS") { goal.open = true; goal.hidden = false; goal.scrollIntoView(); }
  }

  search.addEventListener("input", apply);
  type.addEventListener("change", apply);
  boxes.forEach(function (box) { box.addEventListener("change", apply); });
  window.addEventListener("hashchange", openTarget);
  window.addEventListener("beforeprint", function () {
    document.querySelectorAll("details.object").forEach(function (each) {
      if (!each.hidden) { each.open = true; }
    });
  });
  apply();
  openTarget();
}());
