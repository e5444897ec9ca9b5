// Lists, filters and opens the objects of the page; works from disk, asks nobody. What is long is packed until it is looked at.
(function () {
  "use strict";
  var COLUMNS = ["id", "type", "outcome", "worst", "rank", "lines", "dependents", "hours", "reason", "place", "findings",
    "constructs", "proof", "fails", "wave", "owners"];
  var SEVERITIES = ["blocker", "warning", "note"];
  var OUTCOMES = ["as-is", "drafted", "confirm", "rewrite", "blocked"];
  var STEP = 100, TOGETHER = 50, CONTEXT = 3, LEAST_FOLDED = 8;
  var byId = function (id) { return document.getElementById(id); };
  var all = function (query) { return Array.prototype.slice.call(document.querySelectorAll(query)); };
  var search = byId("search"), type = byId("type"), severity = byId("severity"), count = byId("count"), more = byId("more");
  var wave = byId("wave") || {value: ""}, owner = byId("owner") || {value: ""};  // only where there is a plan, or an owner
  var choices = {type: type, severity: severity, wave: wave, owner: owner};
  var boxes = all("input[data-outcome]"), titles = all("button[data-sort]");
  var rows = [], places = {}, fitting = [], shown = 0, sort = "rank", down = false, chunks = {};

  function unpack(node) {
    var letters = atob(node.textContent), bytes = new Uint8Array(letters.length);
    for (var at = 0; at < letters.length; at += 1) { bytes[at] = letters.charCodeAt(at); }
    var stream = new Blob([bytes]).stream().pipeThrough(new DecompressionStream("deflate"));
    return new Response(stream).json();
  }

  function inside(row) {
    var number = Math.floor(row.at / TOGETHER);
    chunks[number] = chunks[number] || unpack(document.querySelector('[data-chunk="' + number + '"]'));
    return chunks[number].then(function (list) { return list[row.at % TOGETHER]; });
  }

  function make(tag, text, kind) {
    var node = document.createElement(tag);
    if (text !== undefined) { node.textContent = text; }
    if (kind) { node.className = kind; }
    return node;
  }

  function line(row) {
    var tr = make("tr"), outcome = make("td", "", "o"), name = make("td"), link = make("a");
    row.id.split(/(?<=[._])/).forEach(function (part) { link.append(part, make("wbr")); });
    outcome.append(make("span", "", "dot c-" + row.outcome), row.outcome);
    link.href = "#" + encodeURIComponent(row.id);
    name.append(link);
    tr.append(make("td", row.rank, "n"), outcome, name, make("td", row.type));
    if (byId("wave")) { tr.append(make("td", row.wave === null ? "done" : row.wave || "pilot", "n")); }
    tr.append(make("td", row.lines, "n"), make("td", row.dependents, "n"), make("td", row.hours.toFixed(1), "n"), make("td", row.reason, "screen"));
    return tr;
  }

  function entry(row) {
    var node = make("details", undefined, "object"), head = make("summary"), body = make("div", undefined, "inside");
    node.id = row.id;
    head.append(make("span", "", "dot c-" + row.outcome), make("span", row.id, "id"), make("span", row.outcome));
    if (row.proof) { head.append(make("span", row.proof, row.fails ? "proof failed" : "proof")); }
    head.append(make("span", row.place + " \u00b7 " + row.findings + " finding" + (row.findings === 1 ? "" : "s"), "why"));
    node.append(head, body);
    node.addEventListener("toggle", function () { if (node.open) { fill(node, row); } });
    return node;
  }

  function fill(node, row) {
    if (node.dataset.filled) { return Promise.resolve(); }
    node.dataset.filled = "yes";
    return inside(row).then(function (markup) {
      node.lastChild.innerHTML = markup;  // escaped where it was written
      node.querySelectorAll(".code").forEach(layOut);
      node.querySelectorAll(".place").forEach(function (place) {
        place.addEventListener("click", function () { point(node, place); });
        leadBack(node, place);
      });
      node.querySelectorAll(".code").forEach(fold);
    });
  }

  // Puts each line of a text into a row of its own, with its number, so that long lines may be wrapped.
  function layOut(code) {
    var pre = code.querySelector("pre"), first = Number(code.dataset.first), lines = [], text;
    function begin() {
      var line = make("div", undefined, "line");
      text = make("span");
      line.append(make("span", first + lines.length, "number"), text);
      lines.push(line);
    }
    begin();
    pre.childNodes.forEach(function (node) {
      node.textContent.split("\n").forEach(function (part, at) {
        if (at) { begin(); }
        if (node.nodeType !== Node.ELEMENT_NODE) { text.append(part); return; }
        var piece = node.cloneNode(false);
        piece.textContent = part;
        text.append(piece);
        lines[lines.length - 1].dataset.changed = "yes";
      });
    });
    if (lines.length > 1 && !text.textContent) { lines.pop(); }
    pre.replaceChildren.apply(pre, lines);
  }

  // Hides long stretches in which nothing changes and nothing was found; a button shows them.
  function fold(code) {
    var lines = Array.prototype.slice.call(code.querySelectorAll(".line")), near = lines.map(function () { return false; });
    if (!code.querySelector("[data-changed]")) { return; }
    lines.forEach(function (line, at) {
      if (!line.dataset.changed && !line.querySelector(".told")) { return; }
      for (var by = -CONTEXT; by <= CONTEXT; by += 1) { near[at + by] = true; }
    });
    for (var from = 0; from < lines.length; from += 1) {
      var until = from;
      while (until < lines.length && !near[until]) { until += 1; }
      if (until - from >= LEAST_FOLDED) { hide(lines.slice(from, until)); }
      from = Math.max(from, until);
    }
  }

  function hide(lines) {
    var button = make("button", "\u2026 " + lines.length + " unchanged lines", "unfold");
    button.type = "button";
    button.addEventListener("click", function () { unfold(button); });
    lines[0].before(button);
    lines.forEach(function (line) { line.classList.add("folded"); });
  }

  function unfold(button) {
    for (var line = button.nextElementSibling; line && line.classList.contains("folded"); line = line.nextElementSibling) {
      line.classList.remove("folded");
    }
    button.remove();
  }

  function lineOf(node, place) {
    var code = node.querySelector(".code");
    return code.querySelectorAll(".line")[place.dataset.line - code.dataset.first];
  }

  function leadBack(node, place) {
    var line = lineOf(node, place), button = make("button", undefined, "told");
    if (!line || line.querySelector(".told")) { return; }  // the first finding of a line is the one it leads to
    button.type = "button";
    button.title = "Show what was found on this line";
    button.textContent = line.firstChild.textContent;
    button.addEventListener("click", function () { place.scrollIntoView({block: "center"}); place.focus(); });
    line.firstChild.replaceChildren(button);
  }

  function point(node, place) {
    var goal = lineOf(node, place);
    if (!goal) { return; }
    node.querySelectorAll(".pointed").forEach(function (line) { line.classList.remove("pointed"); });
    goal.classList.add("pointed");
    goal.scrollIntoView({block: "center"});
  }

  function fits(row, words, wanted) {
    return wanted[row.outcome] && (!type.value || row.type === type.value) &&
      (!severity.value || row.worst <= SEVERITIES.indexOf(severity.value)) &&
      (!wave.value || (row.wave === null ? "done" : String(row.wave)) === wave.value) &&
      (!owner.value || (owner.value === "none" ? !row.owners.length : row.owners.indexOf(owner.value.slice(1)) >= 0)) &&
      words.every(function (word) { return row.text.indexOf(word) >= 0; });
  }

  function order(one, other) {
    var a = one[sort], b = other[sort];
    if (sort === "outcome") { a = OUTCOMES.indexOf(a); b = OUTCOMES.indexOf(b); }
    if (sort === "wave") { a = a === null ? Infinity : a; b = b === null ? Infinity : b; }
    var result = a < b ? -1 : a > b ? 1 : one.rank - other.rank;
    return down ? -result : result;
  }

  function show() {
    var until = Math.min(shown + STEP, fitting.length), lines = [], entries = [];
    for (; shown < until; shown += 1) { lines.push(line(fitting[shown])); entries.push(entry(fitting[shown])); }
    byId("rows").append.apply(byId("rows"), lines);
    byId("list").append.apply(byId("list"), entries);
    more.hidden = shown >= fitting.length;
    more.textContent = "Show " + Math.min(STEP, fitting.length - shown) + " more of " + (fitting.length - shown);
  }

  function apply() {
    var words = search.value.toLowerCase().split(/\s+/).filter(Boolean), wanted = {};
    boxes.forEach(function (box) { wanted[box.dataset.outcome] = box.checked; });
    fitting = rows.filter(function (row) { return fits(row, words, wanted); }).sort(order);
    titles.forEach(function (title) {
      var own = title.dataset.sort === sort;
      title.parentNode.setAttribute("aria-sort", own ? (down ? "descending" : "ascending") : "none");
    });
    byId("rows").replaceChildren();
    byId("list").replaceChildren();
    shown = 0;
    show();
    count.textContent = fitting.length + " of " + rows.length + " objects";
  }

  function keep() {
    var state = new URLSearchParams();
    if (search.value) { state.set("q", search.value); }
    Object.keys(choices).forEach(function (name) { if (choices[name].value) { state.set(name, choices[name].value); } });
    state.set("outcomes", boxes.filter(function (b) { return b.checked; }).map(function (b) { return b.dataset.outcome; }).join(","));
    if (sort !== "rank" || down) { state.set("sort", (down ? "-" : "") + sort); }
    history.replaceState(null, "", "#?" + state);
  }

  function restore() {
    if (location.hash.slice(0, 2) !== "#?") { return; }
    var state = new URLSearchParams(location.hash.slice(2)), outcomes = (state.get("outcomes") || "").split(",");
    search.value = state.get("q") || "";
    Object.keys(choices).forEach(function (name) { choices[name].value = state.get(name) || ""; });
    boxes.forEach(function (box) { box.checked = outcomes.indexOf(box.dataset.outcome) >= 0; });
    var by = state.get("sort") || "rank";
    down = by.charAt(0) === "-";
    sort = COLUMNS.indexOf(by.replace("-", "")) >= 0 ? by.replace("-", "") : "rank";
  }

  function openTarget() {
    var name = location.hash.slice(1);
    try { name = decodeURIComponent(name); } catch (fault) { return; }
    if (!Object.prototype.hasOwnProperty.call(places, name)) { return; }
    var row = rows[places[name]], goal = byId(name);
    if (!goal) { goal = entry(row); byId("list").prepend(goal); }
    goal.open = true;
    fill(goal, row).then(function () { goal.scrollIntoView(); });
  }

  function changed() { apply(); keep(); }

  search.addEventListener("input", changed);
  all(".tools select").concat(boxes).forEach(function (each) { each.addEventListener("change", changed); });
  titles.forEach(function (title) {
    title.addEventListener("click", function () {
      down = title.dataset.sort === sort ? !down : false;
      sort = title.dataset.sort;
      changed();
    });
  });
  more.addEventListener("click", show);
  window.addEventListener("hashchange", function () {
    if (location.hash.slice(0, 2) !== "#?") { openTarget(); return; }
    restore();
    apply();
    byId("worklist").scrollIntoView();
  });
  byId("print").addEventListener("click", function () {
    var nodes = all("details.object");
    Promise.all(nodes.map(function (node) { node.open = true; return fill(node, rows[places[node.id]]); })).then(function () {
      document.body.classList.add("whole");
      window.print();
      document.body.classList.remove("whole");
    });
  });
  unpack(byId("data-rows")).then(function (list) {
    rows = list.map(function (values, at) {
      var row = { at: at };
      COLUMNS.forEach(function (name, place) { row[name] = values[place]; });
      row.text = (row.id + " " + row.place + " " + row.constructs).toLowerCase();
      places[row.id] = at;
      return row;
    });
    restore();
    apply();
    openTarget();
    document.body.dataset.ready = "yes";
  });
}());
