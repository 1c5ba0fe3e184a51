package leanladder.server.suite;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import leanladder.RandomEstate;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.server.http.JsonWriter;
import leanladder.server.query.QueryContext;
import leanladder.server.state.Snapshot;
import leanladder.server.suite.SuiteRoutes.DeliveredSetting;
import leanladder.server.suite.SuiteRoutes.Delivery;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Whether looked up or climbed to, a delivery is the record of what is in force, as it is written. */
class SettingsPayloadCacheTest {
    private static final Instant AT = RandomEstate.NOW;

    private final SettingsPayloadCache settingsPayloadCache = new SettingsPayloadCache();

    private static String expected(QueryContext queryContext, Account account) {
        List<DeliveredSetting> settings = new ArrayList<>();
        if (account.active()) {
            AccountResolver accountResolver = queryContext.instantResolution().climber(account);
            for (Setting setting : queryContext.estate().catalogue().settings().values())
                settings.add(DeliveredSetting.of(setting, accountResolver.outcome(setting), account.language()));
        }
        return text(JsonWriter.write(new Delivery(account.id(), account.active(), settings)));
    }

    private static String text(byte[] json) {
        return new String(json, StandardCharsets.UTF_8);
    }

    private void compareAll(QueryContext queryContext) {
        for (Account account : queryContext.estate().accounts())
            assertThat(text(settingsPayloadCache.written(queryContext, account)))
                    .as(account.id())
                    .isEqualTo(expected(queryContext, account));
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8})
    void aDeliveryReadsTheSameClimbedToAndLookedUp(long seed) {
        Estate estate = RandomEstate.read(RandomEstate.json(seed));
        QueryContext queryContext = new QueryContext(
                new Snapshot(1, AT, new CompiledEstate(estate)), EvaluationContext.at(AT), Optional.empty());
        ColumnResolver columnResolver = queryContext.instantResolution().columnResolver();
        assertThat(columnResolver.isReady()).isFalse();
        compareAll(queryContext);
        columnResolver.all();
        assertThat(columnResolver.isReady()).isTrue();
        compareAll(queryContext);
    }
}
