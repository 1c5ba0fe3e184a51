package leanladder.server.files;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Family;
import leanladder.estate.read.InvalidEstate;
import leanladder.server.access.Actors;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Limits;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Shape;
import leanladder.server.list.Named;
import leanladder.server.live.Publisher;
import leanladder.server.live.Receipt;
import leanladder.server.live.Snapshot;
import leanladder.server.live.Timeline;
import leanladder.server.mail.Post;
import leanladder.store.Store;
import leanladder.store.journal.Change;

/** The estate as a whole, and what every page needs to know of it. */
public record EstateRoutes(
        Store store, Timeline timeline, Publisher publisher, Actors actors, Optional<String> suite, Post post)
        implements Room {
    /** Whom the estate is of. */
    public record OrganisationView(String name, String timeZone, int accounts) {}

    /**
     * Who asks, and where the estate stands.
     *
     * @param change the number of the last change; 0 while there is no estate
     * @param suite the address of the simulated suite, where one runs
     * @param mails whether texts to people are mailed
     */
    public record Session(
            String author,
            Instant now,
            long change,
            Optional<OrganisationView> organisation,
            Optional<String> suite,
            boolean mails) {}

    /** Values of settings that belong together. */
    public record FamilyState(String name, Map<String, JsonNode> values) {}

    /** Settings that are meant to be set together, and the states that they make together. */
    public record FamilyView(String id, String name, List<FamilyState> states) {}

    /** Apps, settings, families, and sizes of hosting from the smallest; settings as the estate file writes them, and whether they can be capped. */
    public record CatalogueView(
            List<Named> apps,
            List<Named> entitlements,
            List<String> sizes,
            List<@Shape("Setting") JsonNode> settings,
            List<FamilyView> families) {}

    @Override
    public void routes(Api api) {
        api.get("/session", this::session, Session.class);
        api.get("/estate", this::export);
        api.put("/estate", this::replace, this::again, Receipt.class);
        api.get("/catalogue", this::catalogue, CatalogueView.class);
    }

    private Answer export(Call call) {
        call.query(Set.of());
        Snapshot present = timeline.present();
        return Answer.stream(out -> store.parts().export(out, present.change()))
                .with("ETag", "\"" + present.change() + "\"")
                .with("Content-Disposition", "inline; filename=\"estate.json\"");
    }

    private Answer replace(Call call) throws IOException {
        Query query = call.query(Set.of("note"));
        Optional<Long> base = call.header("If-Match").map(EstateRoutes::number);
        // It is taken whole before anybody has to wait for it, however slowly it comes.
        Path file = Files.createTempFile("lean-ladder", ".estate");
        try {
            try (InputStream body = call.streamedBody(Limits.ESTATE)) {
                Files.copy(body, file, StandardCopyOption.REPLACE_EXISTING);
            }
            try (InputStream in = new BufferedInputStream(Files.newInputStream(file))) {
                return told(publisher.replace(
                        call.request(), in, base, query.one("note").orElse("The whole estate was replaced")));
            }
        } catch (InvalidEstate e) {
            throw Problem.defects(422, "Not a valid estate", e.defects());
        } finally {
            Files.deleteIfExists(file);
        }
    }

    private Answer again(long number) {
        return told(store.journal().change(number).orElseThrow());
    }

    private static Answer told(Change change) {
        return Answer.of(Receipt.of(change)).with("ETag", "\"" + change.number() + "\"");
    }

    private static long number(String etag) {
        String digits = etag.replaceAll("^(W/)?\"|\"$", "");
        if (!digits.matches("\\d{1,18}"))
            throw Problem.wrongInput("If-Match must be the ETag of the estate that you got.");
        return Long.parseLong(digits);
    }

    private Answer session(Call call) {
        if (timeline.isEmpty())
            return Answer.of(new Session(actors.name(), timeline.now(), 0, Optional.empty(), suite, post.hands()));
        Snapshot present = timeline.present();
        var organisation = present.estate().organisation();
        return Answer.of(new Session(
                actors.name(),
                timeline.now(),
                present.change(),
                Optional.of(new OrganisationView(
                        organisation.name(),
                        organisation.zone().getId(),
                        present.directory().active().getCardinality())),
                suite,
                post.hands()));
    }

    private Answer catalogue(Call call) {
        var catalogue = timeline.present().estate().catalogue();
        List<Named> apps = catalogue.apps().entrySet().stream()
                .sorted(Map.Entry.comparingByValue())
                .map(app -> new Named(app.getKey(), app.getValue()))
                .toList();
        List<JsonNode> settings = new ArrayList<>();
        catalogue
                .settings()
                .values()
                .forEach(s -> settings.add(
                        s.source().deepCopy().put("cappable", s.strictness().isPresent())));
        return Answer.of(new CatalogueView(
                apps,
                catalogue.entitlements().entrySet().stream()
                        .map(e -> new Named(e.getKey(), e.getValue()))
                        .sorted(java.util.Comparator.comparing(Named::name))
                        .toList(),
                catalogue.sizes(),
                settings,
                catalogue.families().stream().map(EstateRoutes::family).toList()));
    }

    private static FamilyView family(Family family) {
        List<FamilyState> states = new ArrayList<>();
        for (Family.State state : family.states()) {
            Map<String, JsonNode> values = new LinkedHashMap<>();
            state.values().forEach((key, value) -> values.put(key, value.json()));
            states.add(new FamilyState(state.name(), values));
        }
        return new FamilyView(family.id(), family.name(), states);
    }
}
