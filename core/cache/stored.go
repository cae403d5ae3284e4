package cache

// Store keeps the bytes of what took long to compute beyond the program's end. It is safe for concurrent use.
type Store interface {
	// Load returns what was saved under a key, or nil.
	Load(key string) []byte
	Save(key string, data []byte)
}

// Disk, if not nil, keeps results that can be written as bytes. It is set before anything is computed.
var Disk Store

// GetStored is Get of a result that is kept on the disk too, under a name that tells it from other results. read refuses bytes that are not
// such a result; it is computed then.
func (r *Results[V]) GetStored(name, key string, write func(V) []byte, read func([]byte) (V, bool), compute func() (V, error)) (V, error) {
	return r.Get(key, func() (V, error) {
		store := Disk
		if store == nil {
			return compute()
		}
		name := name + "|" + key
		if data := store.Load(name); data != nil {
			if v, ok := read(data); ok {
				return v, nil
			}
		}
		v, err := compute()
		if err == nil {
			store.Save(name, write(v))
		}
		return v, err
	})
}
