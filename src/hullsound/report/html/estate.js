// Sorts the members by a click on a head, and filters them; works from disk, asks nobody.
(function () {
  "use strict";
  var table = document.getElementById("members");
  if (!table) { return; }
  var body = table.tBodies[0];
  var rows = Array.prototype.slice.call(body.rows);
  var search = document.getElementById("search");
  var last = -1, way = 1;

  function value(row, place) {
    var cell = row.cells[place];
    var number = cell.dataset.value;
    return number !== undefined ? parseFloat(number) : cell.textContent.trim().toLowerCase();
  }

  Array.prototype.forEach.call(table.tHead.rows[0].cells, function (head, place) {
    head.tabIndex = 0;
    head.setAttribute("role", "button");
    function sort() {
      way = place === last ? -way : 1;
      last = place;
      rows.sort(function (one, other) {
        var a = value(one, place), b = value(other, place);
        return a < b ? -way : a > b ? way : 0;
      });
      rows.forEach(function (row) { body.appendChild(row); });
    }
    head.addEventListener("click", sort);
    head.addEventListener("keydown", function (event) { if (event.key === "Enter") { sort(); } });
  });

  search.addEventListener("input", function () {
    var words = search.value.toLowerCase().split(/\s+/).filter(Boolean);
    rows.forEach(function (row) {
      var text = row.textContent.toLowerCase();
      row.hidden = !words.every(function (word) { return text.indexOf(word) >= 0; });
    });
  });
}());
