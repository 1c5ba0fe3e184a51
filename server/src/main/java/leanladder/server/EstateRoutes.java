package leanladder.server;

import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Family;
import leanladder.estate.read.InvalidEstate;
import leanladder.store.Change;

/** The estate as a whole, and what every page needs to know of it. */
record EstateRoutes(Estates estates) {
    void export(Context ctx) throws IOException {
        new Query(ctx, estates.now(), Set.of(), Set.of());
        Present present = estates.present();
        ctx.contentType("application/json");
        ctx.header("ETag", "\"" + present.change() + "\"");
        ctx.header("Content-Disposition", "inline; filename=\"estate.json\"");
        OutputStream out = new BufferedOutputStream(ctx.outputStream(), 1 << 16);
        estates.export(out);
        out.flush();
    }

    void replace(Context ctx) throws IOException {
        Query query = new Query(ctx, estates.now(), Set.of("note"), Set.of());
        Optional<Long> base = Optional.ofNullable(ctx.header("If-Match")).map(EstateRoutes::number);
        try {
            Change change = estates.replace(
                    ctx.bodyInputStream(), base, query.one("note").orElse("The whole estate was replaced"));
            ctx.header("ETag", "\"" + change.number() + "\"");
            Answers.json(ctx, ChangeRoutes.receipt(change));
        } catch (InvalidEstate e) {
            throw Problem.defects(422, "Not a valid estate", e.defects());
        }
    }

    private static long number(String etag) {
        String digits = etag.replaceAll("^(W/)?\"|\"$", "");
        if (!digits.matches("\\d{1,18}"))
            throw Problem.wrongInput("If-Match must be the ETag of the estate that you got.");
        return Long.parseLong(digits);
    }

    /** Who asks, and where the estate stands. */
    void session(Context ctx) {
        ObjectNode session = Answers.object();
        session.put("author", estates.author());
        session.put("now", estates.now().toString());
        if (estates.isEmpty()) {
            session.put("change", 0);
            session.putNull("organisation");
        } else {
            Present present = estates.present();
            session.put("change", present.change());
            var organisation = present.ground().estate().organisation();
            ObjectNode told = session.putObject("organisation");
            told.put("name", organisation.name());
            told.put("timeZone", organisation.zone().getId());
            told.put("accounts", present.ground().directory().active().getCardinality());
        }
        Answers.json(ctx, session);
    }

    /** The catalogue as the estate file writes it, settings by key, for those who edit. */
    void catalogue(Context ctx) {
        var catalogue = estates.present().ground().estate().catalogue();
        ObjectNode told = Answers.object();
        var apps = told.putArray("apps");
        catalogue.apps().entrySet().stream()
                .sorted(java.util.Map.Entry.comparingByValue())
                .forEach(app -> apps.addObject().put("id", app.getKey()).put("name", app.getValue()));
        var settings = told.putArray("settings");
        catalogue.settings().values().forEach(s -> settings.add(s.source()));
        var families = told.putArray("families");
        for (Family family : catalogue.families()) {
            ObjectNode one = families.addObject().put("id", family.id()).put("name", family.name());
            var states = one.putArray("states");
            for (Family.State state : family.states()) {
                ObjectNode values = states.addObject().put("name", state.name()).putObject("values");
                state.values().forEach((key, value) -> values.set(key, value.json()));
            }
        }
        Answers.json(ctx, told);
    }
}
