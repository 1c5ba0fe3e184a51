package leanladder.server.search;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import leanladder.server.http.JsonWriter;
import leanladder.server.http.Limits;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.paging.FuzzyMatcher;
import leanladder.server.paging.NamedRef;
import leanladder.server.query.QueryContext;
import leanladder.server.state.Snapshot;

/** One search over everything that can be named. */
public record SearchRoutes(QueryContext.Reader queries) implements RouteGroup {
    private static final SearchIndexDefinition INDEX = new SearchIndexDefinition();
    private static final int SHOWN = 12;
    private static final int MOST = 200;

    /** Something found. @param heldBy the access groups that hold a mailing group, at which policies can be aimed */
    public record Hit(
            SearchIndex.HitKind kind,
            String id,
            String title,
            String context,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<List<NamedRef>> heldBy) {}

    /** Free typing read as whom it is about and what is asked. */
    public record QueryReading(Hit who, Hit what) {}

    /** What was found, and how the typing can be read. */
    public record SearchResult(List<Hit> hits, List<QueryReading> readings) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/search", this::search, SearchResult.class);
    }

    private Response search(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(Set.of("q", "kinds", "limit", "draft"));
        Snapshot snapshot = queries.read(queryParameters).snapshot();
        SearchIndex.Search search = snapshot.get(INDEX).search();
        String text = queryParameters.one("q").orElse("");
        List<String> words = FuzzyMatcher.words(text.substring(0, Math.min(text.length(), Limits.SEARCH))).stream()
                .limit(Limits.WORDS)
                .toList();
        List<Hit> hits =
                search.find(words, kinds(queryParameters), queryParameters.number("limit", SHOWN, MOST)).stream()
                        .map(h -> told(h, snapshot))
                        .toList();
        List<QueryReading> readings = queryParameters.one("kinds").isPresent()
                ? List.of()
                : search.readings(words).stream()
                        .map(r -> new QueryReading(told(r.who(), snapshot), told(r.what(), snapshot)))
                        .toList();
        return Response.of(new SearchResult(hits, readings));
    }

    private static Set<SearchIndex.HitKind> kinds(QueryParameters queryParameters) {
        Set<SearchIndex.HitKind> kinds = EnumSet.noneOf(SearchIndex.HitKind.class);
        for (String word : queryParameters.one("kinds").map(k -> k.split(",")).orElse(new String[0])) {
            kinds.add(
                    Arrays.stream(SearchIndex.HitKind.values())
                            .filter(k -> JsonWriter.word(k).equals(word.trim().toLowerCase(Locale.ROOT)))
                            .findFirst()
                            .orElseThrow(
                                    () -> ProblemException.wrongInput(
                                            "There is no kind \"" + word
                                                    + "\"; there are everyone, account, unit, group, workspace, hosting, setting, policy and plan.")));
        }
        return kinds.isEmpty() ? EnumSet.allOf(SearchIndex.HitKind.class) : kinds;
    }

    private static Hit told(SearchIndex.Hit hit, Snapshot snapshot) {
        boolean mailing = hit.kind() == SearchIndex.HitKind.GROUP
                && snapshot.estate().group(hit.id()).filter(g -> !g.access()).isPresent();
        Optional<List<NamedRef>> heldBy = mailing
                ? Optional.of(snapshot.directory().groupsAround(hit.id()).stream()
                        .map(around -> snapshot.estate().group(around).orElseThrow())
                        .filter(outer -> outer.access())
                        .map(outer -> new NamedRef(outer.id(), outer.name()))
                        .toList())
                : Optional.empty();
        return new Hit(hit.kind(), hit.id(), hit.title(), hit.context(), heldBy);
    }
}
