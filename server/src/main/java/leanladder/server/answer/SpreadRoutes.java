package leanladder.server.answer;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import leanladder.catalogue.Setting;
import leanladder.change.Ripple;
import leanladder.document.Place;
import leanladder.server.answer.Matrix.Filter;
import leanladder.server.answer.Matrix.Layout;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Answers;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Sent;
import leanladder.server.live.Proposal;

/** The matrix, asked for in windows of rows. */
public record SpreadRoutes(Inquiry.Reader inquiries) implements Room {
    private static final int MOST_ROWS = 500;
    private static final int MOST_COLUMNS = 300;
    private static final Map<String, Filter> FILTERS = Arrays.stream(Filter.values())
            .filter(f -> f != Filter.ALL)
            .collect(Collectors.toUnmodifiableMap(Answers::word, Function.identity()));

    /** A matrix is kept for its layout and the ripple that is marked in it. */
    private record Key(Layout layout, Optional<Ripple> ripple) {}

    @Override
    public void routes(Api api) {
        api.ask("/spread", this::spread, Matrix.Spread.class);
    }

    private Answer spread(Call call) throws IOException {
        Query query = call.query(Query.about("format"));
        boolean csv = query.isCsv();
        Inquiry inquiry = inquiries.of(query);
        Sent sent = call.sent();
        Layout layout = read(sent.root(), inquiry);
        Matrix.Window window = new Matrix.Window(
                number(sent.root(), "from", 0, Integer.MAX_VALUE),
                number(sent.root(), "count", 100, MOST_ROWS),
                Math.min(
                        number(sent.root(), "firstColumn", 0, MOST_COLUMNS),
                        layout.settings().size()),
                number(sent.root(), "columns", MOST_COLUMNS, MOST_COLUMNS));
        sent.refuseDefects();
        Optional<Ripple> ripple = inquiry.draft().map(Proposal::ripple);
        Matrix matrix = inquiry.moment().view(new Key(layout, ripple), () -> new Matrix(inquiry, layout, ripple));
        return Answer.of(csv ? matrix.csv() : matrix.window(window));
    }

    private static Layout read(Place root, Inquiry inquiry) {
        List<Setting> settings = new ArrayList<>();
        if (root.isObject()) {
            List<Place> keys = root.required("settings").map(Place::items).orElse(List.of());
            if (keys.size() > MOST_COLUMNS)
                root.member("settings").orElseThrow().defect("must not name more than " + MOST_COLUMNS + " settings");
            for (Place key : keys)
                key.text()
                        .ifPresent(k -> inquiry.estate()
                                .catalogue()
                                .setting(k)
                                .ifPresentOrElse(settings::add, () -> key.defect("names no setting of the catalogue")));
        }
        boolean groups = root.member("rows")
                .flatMap(p -> p.word(Map.of("units", false, "groups", true)))
                .orElse(false);
        Set<String> open = new HashSet<>();
        Optional<String> opened = root.member("open")
                .filter(p -> p.node().isTextual())
                .flatMap(p -> p.word(Map.of("all", "all", "units", "units")));
        if (opened.isEmpty())
            for (Place id : root.member("open")
                    .filter(p -> !p.node().isTextual())
                    .map(Place::items)
                    .orElse(List.of())) id.text().ifPresent(open::add);
        Set<String> shut = new HashSet<>();
        for (Place id : root.items("shut")) id.text().ifPresent(shut::add);
        Filter filter = root.member("filter")
                .filter(p -> !p.node().isNull())
                .flatMap(p -> p.word(FILTERS))
                .orElse(Filter.ALL);
        return new Layout(
                settings,
                groups,
                opened.equals(Optional.of("all")),
                opened.equals(Optional.of("units")),
                open,
                shut,
                filter);
    }

    private static int number(Place root, String name, int otherwise, int most) {
        return root.member(name)
                .flatMap(Place::integer)
                .map(n -> n.bitLength() > 31 ? most : Math.max(0, Math.min(most, n.intValue())))
                .orElse(otherwise);
    }
}
