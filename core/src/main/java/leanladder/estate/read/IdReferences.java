package leanladder.estate.read;

import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.estate.Group;
import leanladder.estate.Unit;

/** The ids met so far in a file. */
final class IdReferences implements References {
    final Map<String, Unit> units = new HashMap<>();
    final IdIndex accounts = new IdIndex();
    final Map<String, Group> groups = new HashMap<>();
    final Set<String> workspaces = new HashSet<>();
    final Set<String> hostings = new HashSet<>();

    Set<String> settings = Set.of();

    Set<String> pictures = Set.of();

    @Override
    public boolean hasPicture(String sha256) {
        return pictures.contains(sha256);
    }

    @Override
    public boolean hasSetting(String key) {
        return settings.contains(key);
    }

    @Override
    public boolean hasUnit(String id) {
        return units.containsKey(id);
    }

    @Override
    public boolean hasAccount(String id) {
        return accounts.find(id, 0) != null;
    }

    @Override
    public Optional<Boolean> isAccessGroup(String id) {
        return Optional.ofNullable(groups.get(id)).map(Group::access);
    }

    @Override
    public boolean hasWorkspace(String id) {
        return workspaces.contains(id);
    }

    @Override
    public boolean hasHosting(String id) {
        return hostings.contains(id);
    }

    @Override
    public boolean isRootUnit(String id) {
        return units.containsKey(id) && units.get(id).parent().isEmpty();
    }
}
