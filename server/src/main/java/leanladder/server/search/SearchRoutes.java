package leanladder.server.search;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Answers;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Limits;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.list.Named;
import leanladder.server.list.Spelling;
import leanladder.server.live.Snapshot;

/** One search over everything that can be named. */
public record SearchRoutes(Inquiry.Reader inquiries) implements Room {
    private static final SearchFacet INDEX = new SearchFacet();
    private static final int SHOWN = 12;
    private static final int MOST = 100;

    /** Something found. @param heldBy the access groups that hold a mailing group, at which policies can be aimed */
    public record Hit(
            SearchIndex.HitKind kind,
            String id,
            String title,
            String context,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<List<Named>> heldBy) {}

    /** Free typing read as whom it is about and what is asked. */
    public record ReadingOf(Hit who, Hit what) {}

    /** What was found, and how the typing can be read. */
    public record Found(List<Hit> hits, List<ReadingOf> readings) {}

    @Override
    public void routes(Api api) {
        api.get("/search", this::search, Found.class);
    }

    private Answer search(Call call) {
        Query query = call.query(Set.of("q", "kinds", "limit", "draft"));
        Snapshot snapshot = inquiries.of(query).snapshot();
        SearchIndex.Search search = snapshot.get(INDEX).search();
        String text = query.one("q").orElse("");
        List<String> words = Spelling.words(text.substring(0, Math.min(text.length(), Limits.SEARCH))).stream()
                .limit(Limits.WORDS)
                .toList();
        List<Hit> hits = search.find(words, kinds(query), query.number("limit", SHOWN, MOST)).stream()
                .map(h -> told(h, snapshot))
                .toList();
        List<ReadingOf> readings = query.one("kinds").isPresent()
                ? List.of()
                : search.readings(words).stream()
                        .map(r -> new ReadingOf(told(r.who(), snapshot), told(r.what(), snapshot)))
                        .toList();
        return Answer.of(new Found(hits, readings));
    }

    private static Set<SearchIndex.HitKind> kinds(Query query) {
        Set<SearchIndex.HitKind> kinds = EnumSet.noneOf(SearchIndex.HitKind.class);
        for (String word : query.one("kinds").map(k -> k.split(",")).orElse(new String[0])) {
            kinds.add(Arrays.stream(SearchIndex.HitKind.values())
                    .filter(k -> Answers.word(k).equals(word.trim().toLowerCase(Locale.ROOT)))
                    .findFirst()
                    .orElseThrow(() -> Problem.wrongInput("There is no kind \"" + word
                            + "\"; there are everyone, account, unit, group, workspace, setting and policy.")));
        }
        return kinds.isEmpty() ? EnumSet.allOf(SearchIndex.HitKind.class) : kinds;
    }

    private static Hit told(SearchIndex.Hit hit, Snapshot snapshot) {
        boolean mailing = hit.kind() == SearchIndex.HitKind.GROUP
                && snapshot.estate().group(hit.id()).filter(g -> !g.access()).isPresent();
        Optional<List<Named>> heldBy = mailing
                ? Optional.of(snapshot.directory().groupsAround(hit.id()).stream()
                        .map(around -> snapshot.estate().group(around).orElseThrow())
                        .filter(outer -> outer.access())
                        .map(outer -> new Named(outer.id(), outer.name()))
                        .toList())
                : Optional.empty();
        return new Hit(hit.kind(), hit.id(), hit.title(), hit.context(), heldBy);
    }
}
