package leanladder.server;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.stream.Collectors;
import leanladder.catalogue.Setting;
import leanladder.document.Json;
import leanladder.estate.Account;
import leanladder.estate.Statement;
import leanladder.estate.Unit;
import leanladder.reach.Rung;
import leanladder.resolve.Climb;
import leanladder.resolve.Climber;
import leanladder.resolve.Ground;
import leanladder.tell.ClimbTelling;
import leanladder.tell.Wording;

/** What a drawn ladder shows of a climb: every rung that exists for the account, from the lowest, and what stands on each. */
record Drawing(Ground ground, Climber climber, Climb climb) {
    ObjectNode json() {
        ClimbTelling telling = new ClimbTelling(ground, climb);
        Wording wording = new Wording(ground.estate(), climb.question().at());
        Account account = climb.account();
        Setting setting = climb.setting();
        ObjectNode drawing = Json.NODES.objectNode();
        drawing.put("account", account.displayName());
        drawing.put("setting", setting.title());
        drawing.put(
                "app",
                setting.app().map(ground.estate().catalogue().apps()::get).orElse(null));
        drawing.put("help", setting.source().path("help").asText(null));
        drawing.put("answer", telling.answer());
        ArrayNode because = drawing.putArray("because");
        telling.because()
                .forEach(p -> because.addObject()
                        .put("text", p.text())
                        .put("policy", p.policy().orElse(null)));
        drawing.put("value", wording.value(setting, climb.outcome().value()));
        drawing.put("decided", wording.value(setting, climb.outcome().decided()));
        drawing.put("text", telling.text());
        ArrayNode rungs = drawing.putArray("rungs");
        rung(rungs, Rung.BUILTIN, "Built-in", "the catalogue");
        List<Unit> path = ground.directory().tree().path(account.unit());
        for (int depth = 0; depth < path.size(); depth++)
            rung(
                    rungs,
                    Rung.ofUnit(depth),
                    depth == 0 ? "Organisation" : "Unit",
                    path.get(depth).name());
        int groups = climber.position().groups().size();
        rung(
                rungs,
                Rung.GROUP,
                "Group",
                groups == 0 ? "in no group" : groups == 1 ? "in one group" : "in " + groups + " groups");
        climb.question()
                .workspace()
                .flatMap(ground.estate()::workspace)
                .ifPresent(w -> rung(rungs, Rung.WORKSPACE, "Workspace", w.name()));
        rung(
                rungs,
                Rung.PERSON,
                account.kind() == leanladder.catalogue.Kind.PERSON ? "Person" : capital(wording.kind(account.kind())),
                account.displayName());
        drawing.put("decidingRung", index(rungs, climb.outcome().rung()));
        ObjectNode builtIn = drawing.putObject("builtIn");
        builtIn.put("value", telling.builtInValue());
        builtIn.put("reason", telling.builtInReason());
        climb.follows()
                .map(f -> ground.estate().catalogue().setting(f).orElseThrow())
                .ifPresent(followed -> builtIn.putObject("follows")
                        .put("setting", followed.key())
                        .put("title", followed.title())
                        .put(
                                "value",
                                wording.value(
                                        followed, climber.outcome(followed).value())));
        ArrayNode statements = drawing.putArray("statements");
        for (Climb.Weighed w : climb.weighed()) {
            Statement statement = w.spoken().statement();
            ObjectNode drawn = statements.addObject();
            drawn.put("rung", index(rungs, w.way().rung()));
            drawn.put("policy", w.spoken().policy().id());
            drawn.put("name", w.spoken().policy().name());
            drawn.put("cap", statement instanceof Statement.Cap);
            drawn.put("lock", statement instanceof Statement.Set set && set.lock());
            drawn.put("value", wording.value(setting, statement.value()));
            drawn.put("verdict", w.verdict().word());
            drawn.put("reason", telling.reason(w));
            drawn.put("via", w.way().via().stream().map(wording::target).collect(Collectors.joining(" › ")));
        }
        ArrayNode gates = drawing.putArray("gates");
        for (Climb.Gate gate : climb.gates())
            gates.addObject()
                    .put("need", wording.need(gate.need()))
                    .put("met", gate.met())
                    .put("evidence", telling.evidence(gate));
        return drawing;
    }

    private static void rung(ArrayNode rungs, Rung rung, String name, String place) {
        rungs.addObject()
                .put("height", rung.height().word())
                .put("depth", rung.depth())
                .put("name", name)
                .put("place", place);
    }

    private static int index(ArrayNode rungs, Rung rung) {
        for (int i = 0; i < rungs.size(); i++)
            if (rungs.get(i).get("height").asText().equals(rung.height().word())
                    && rungs.get(i).get("depth").asInt() == rung.depth()) return i;
        throw new IllegalStateException("The ladder has no rung " + rung);
    }

    private static String capital(String text) {
        return text.substring(0, 1).toUpperCase(java.util.Locale.UK) + text.substring(1);
    }
}
