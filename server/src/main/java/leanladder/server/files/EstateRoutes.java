package leanladder.server.files;

import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Instant;
import java.util.Optional;
import java.util.Set;
import leanladder.estate.read.InvalidEstateException;
import leanladder.server.access.Identity;
import leanladder.server.http.Limits;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.mail.Mailer;
import leanladder.server.state.Publisher;
import leanladder.server.state.Receipt;
import leanladder.server.state.Snapshot;
import leanladder.server.state.Timeline;
import leanladder.store.Store;
import leanladder.store.journal.Change;

/** The estate as a whole, and what every page needs to know of it. */
public record EstateRoutes(
        Store store, Timeline timeline, Publisher publisher, Identity identity, Optional<String> suite, Mailer mailer)
        implements RouteGroup {
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

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/session", this::session, Session.class);
        routeRegistry.get("/estate", this::export);
        routeRegistry.put("/estate", this::replace, this::again, Receipt.class);
    }

    private Response export(RequestContext requestContext) {
        requestContext.query(Set.of());
        Snapshot present = timeline.present();
        return Response.stream(out -> store.parts().export(out, present.change()))
                .with("ETag", "\"" + present.change() + "\"")
                .with("Content-Disposition", "inline; filename=\"estate.json\"");
    }

    private Response replace(RequestContext requestContext) throws IOException {
        QueryParameters queryParameters = requestContext.query(Set.of("note"));
        Optional<Long> base = requestContext.header("If-Match").map(EstateRoutes::number);
        // It is taken whole before anybody has to wait for it, however slowly it comes.
        Path file = Files.createTempFile("lean-ladder", ".estate");
        try {
            try (InputStream body = requestContext.streamedBody(Limits.ESTATE)) {
                Files.copy(body, file, StandardCopyOption.REPLACE_EXISTING);
            }
            try (InputStream in = new BufferedInputStream(Files.newInputStream(file))) {
                return told(publisher.replace(
                        requestContext.writeRequest(),
                        in,
                        base,
                        queryParameters.one("note").orElse("The whole estate was replaced")));
            }
        } catch (InvalidEstateException e) {
            throw ProblemException.defects(422, "Not a valid estate", e.defects());
        } finally {
            Files.deleteIfExists(file);
        }
    }

    private Response again(long number) {
        return told(store.journal().change(number).orElseThrow());
    }

    private static Response told(Change change) {
        return Response.of(Receipt.from(change)).with("ETag", "\"" + change.number() + "\"");
    }

    private static long number(String etag) {
        String digits = etag.replaceAll("^(W/)?\"|\"$", "");
        if (!digits.matches("\\d{1,18}"))
            throw ProblemException.wrongInput("If-Match must be the ETag of the estate that you got.");
        return Long.parseLong(digits);
    }

    private Response session(RequestContext requestContext) {
        if (timeline.isEmpty())
            return Response.of(
                    new Session(identity.name(), timeline.now(), 0, Optional.empty(), suite, mailer.hands()));
        Snapshot present = timeline.present();
        var organisation = present.estate().organisation();
        return Response.of(new Session(
                identity.name(),
                timeline.now(),
                present.change(),
                Optional.of(new OrganisationView(
                        organisation.name(),
                        organisation.zone().getId(),
                        present.directory().active().getCardinality())),
                suite,
                mailer.hands()));
    }
}
